import { type FormEvent, useId } from 'react';
import { Modal } from 'react-bootstrap';
import { Link } from 'react-router';
import { Choice, FieldLine, NumberBox, Tick } from '../../../app/controls';
import { JobProgress } from '../../library/jobs/JobProgress';
import { PickOne } from '../../library/NewSheet';
import { tonight } from '../../prints/night';
import {
  type Burnt,
  PRESETS,
  type PresetName,
  type PrintForm,
  type PrintOptions,
  type PrintView,
  presetOf,
  SIZES,
  viewIn,
} from './printWish';
import type { Printing } from './usePrinting';

interface PrintSheetProps {
  readonly printing: Printing;
  readonly name: string;
  readonly production: string;
  readonly hasCamera: boolean;
  readonly hasSound: boolean;
  readonly mayPrint: boolean;
  /** The shown frames that loop, where a part of the scene does. */
  readonly loop: string | null;
}

const VIEWS: readonly { readonly id: PrintView; readonly name: string }[] = [
  { id: 'stage', name: 'as on the stage' },
  { id: 'camera', name: 'through its camera' },
  { id: 'three-quarter', name: 'three-quarter' },
  { id: 'side', name: 'side' },
  { id: 'front', name: 'front' },
  { id: 'plan', name: 'plan' },
];
const BURNT: readonly { readonly burnt: Burnt; readonly name: string }[] = [
  { burnt: 'frame', name: 'Frame' },
  { burnt: 'time', name: 'Seconds' },
  { burnt: 'timecode', name: 'Timecode' },
  { burnt: 'name', name: 'Scene' },
  { burnt: 'revision', name: 'Revision' },
  { burnt: 'beat', name: 'Beat' },
  { burnt: 'lanes', name: 'What stands on the lanes' },
];
const SHOWS = [
  ['ghosts', 'Ghosts'],
  ['arcs', 'Arcs'],
  ['footPrints', 'Foot prints'],
  ['grid', 'Grid'],
] as const;

/** A pencil test of the scene: what of it, how it is seen, and what is burnt in. */
export function PrintSheet(props: PrintSheetProps) {
  const { printing, name, production, hasCamera, hasSound, mayPrint, loop } = props;
  const { options, setOptions } = printing;
  const id = useId();
  const set = (part: Partial<PrintOptions>) => setOptions({ ...options, ...part });
  const burn = (one: Burnt, isOn: boolean) =>
    set({ burns: BURNT.flatMap(({ burnt }) => (isBurnt(burnt, one, isOn) ? [burnt] : [])) });
  const isBurnt = (burnt: Burnt, one: Burnt, isOn: boolean) =>
    burnt === one ? isOn : options.burns.includes(burnt);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    printing.print();
  };
  return (
    <Modal show onHide={() => printing.setOpen(false)} aria-labelledby={id}>
      <form onSubmit={submit}>
        <Modal.Header closeButton>
          <Modal.Title id={id}>Print {name}</Modal.Title>
        </Modal.Header>
        <Modal.Body className="new-sheet print-sheet">
          <FieldLine name="Preset">
            <Choice<PresetName>
              label="Preset"
              value={presetOf(options)}
              onChange={(preset) =>
                setOptions({ ...PRESETS[preset], part: options.part, rounds: options.rounds })
              }
              options={(Object.keys(PRESETS) as PresetName[]).map((value) => ({
                value,
                text: value,
              }))}
            />
          </FieldLine>
          <FieldLine name="Film">
            <Choice<PrintForm>
              label="Film"
              value={options.form}
              onChange={(form) => set({ form })}
              options={[
                { value: 'mp4', text: 'MP4' },
                { value: 'webm', text: 'WebM' },
              ]}
            />
          </FieldLine>
          <FieldLine name="Frames">
            <Choice<PrintOptions['part']>
              label="Frames"
              value={loop ? options.part : 'whole'}
              onChange={(part) => set({ part })}
              options={[
                { value: 'whole', text: 'all' },
                { value: 'loop', text: loop ? `the loop, ${loop}` : 'the loop' },
              ]}
              disabled={!loop}
            />
          </FieldLine>
          {loop && options.part === 'loop' && (
            <FieldLine name="Rounds">
              <NumberBox
                label="Rounds of the loop"
                value={options.rounds}
                smallest={1}
                largest={100}
                onCommit={(rounds) => set({ rounds })}
              />
            </FieldLine>
          )}
          <PickOne
            name="Seen"
            value={viewIn(options, hasCamera)}
            onPick={(view) => set({ view })}
            options={VIEWS.filter((one) => hasCamera || one.id !== 'camera')}
          />
          <PickOne
            name="Size"
            value={options.size}
            onPick={(size) => set({ size })}
            options={SIZES.map((size) => ({ id: size, name: size.replace('x', ' × ') }))}
          />
          <fieldset>
            <legend>Shows</legend>
            {SHOWS.map(([key, text]) => (
              <Tick
                key={key}
                label={text}
                checked={options[key]}
                onChange={(shown) => set({ [key]: shown })}
              />
            ))}
          </fieldset>
          <fieldset>
            <legend>Burnt in</legend>
            {BURNT.map(({ burnt, name: text }) => (
              <Tick
                key={burnt}
                label={text}
                checked={options.burns.includes(burnt)}
                onChange={(isOn) => burn(burnt, isOn)}
              />
            ))}
          </fieldset>
          <p className="quiet">
            {hasSound ? 'Its sound goes with it, mixed.' : 'The scene has no sound.'}
          </p>
          {printing.underWay.map((job) => (
            <JobProgress key={job.id} job={job} onCancel={() => printing.cancel(job.id)} />
          ))}
        </Modal.Body>
        <Modal.Footer>
          <Link className="btn btn-quiet me-auto" to={`/productions/${production}/prints`}>
            All prints
          </Link>
          <button type="button" className="btn btn-paper" onClick={() => printing.setOpen(false)}>
            Close
          </button>
          <button
            type="button"
            className="btn btn-paper"
            title="On the night list: not before one in the morning"
            disabled={!mayPrint || printing.isAsking}
            onClick={() => printing.print(tonight(new Date()))}
          >
            Tonight
          </button>
          <button type="submit" className="btn btn-lamp" disabled={!mayPrint || printing.isAsking}>
            Print it
          </button>
        </Modal.Footer>
      </form>
    </Modal>
  );
}
