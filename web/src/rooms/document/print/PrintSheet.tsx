import { type FormEvent, useId } from 'react';
import { Modal } from 'react-bootstrap';
import { Link } from 'react-router';
import { Choice, FieldLine, NumberBox, Tick } from '../../../app/controls';
import { JobProgress } from '../../library/jobs/JobProgress';
import { PickOne } from '../../library/NewSheet';
import { tonight } from '../../prints/night';
import {
  type Beside,
  type Burnt,
  CELLS,
  isContact,
  isFilm,
  isMoving,
  kept,
  mayBeClear,
  PRESETS,
  type PresetName,
  type PrintForm,
  type PrintOptions,
  type PrintSubject,
  type PrintView,
  presetOf,
  RATES,
  SIZES,
  viewIn,
} from './printWish';
import type { Printing } from './usePrinting';

const FORMS: readonly { readonly id: PrintForm; readonly name: string }[] = [
  { id: 'mp4', name: 'a film, MP4' },
  { id: 'webm', name: 'a film, WebM' },
  { id: 'webp', name: 'a picture that moves, WebP' },
  { id: 'gif', name: 'a picture that moves, GIF' },
  { id: 'png', name: 'numbered pictures, PNG' },
  { id: 'contact', name: 'a contact sheet, PNG' },
  { id: 'pdf', name: 'contact sheets, PDF' },
];
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
  { burnt: 'name', name: 'Name' },
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

interface OptionsProps {
  readonly printing: Printing;
  readonly set: (part: Partial<PrintOptions>) => void;
}

/** What is open, printed: as what, what of it, how it is seen, and what is burnt in. */
export function PrintSheet({ printing }: { readonly printing: Printing }) {
  const { options, setOptions, subject } = printing;
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
  const mayAsk = subject.mayPrint && !printing.isAsking;
  return (
    <Modal show onHide={() => printing.setOpen(false)} aria-labelledby={id}>
      <form onSubmit={submit}>
        <Modal.Header closeButton>
          <Modal.Title id={id}>Print {subject.name}</Modal.Title>
        </Modal.Header>
        <Modal.Body className="new-sheet print-sheet">
          <FieldLine name="Preset">
            <Choice<PresetName>
              label="Preset"
              value={presetOf(options)}
              onChange={(preset) => setOptions({ ...PRESETS[preset], ...kept(options) })}
              options={(Object.keys(PRESETS) as PresetName[]).map((value) => ({
                value,
                text: value,
              }))}
            />
          </FieldLine>
          <PickOne
            name="Print it as"
            value={options.form}
            onPick={(form) => set({ form })}
            options={FORMS}
          />
          <FramesWanted printing={printing} set={set} />
          <PickOne
            name="Seen"
            value={viewIn(options, subject.hasCamera)}
            onPick={(view) => set({ view })}
            options={VIEWS.filter((one) => subject.hasCamera || one.id !== 'camera')}
          />
          {isContact(options.form) ? (
            <PickOne
              name="Each frame"
              value={options.cell}
              onPick={(cell) => set({ cell })}
              options={CELLS.map(sized)}
            />
          ) : (
            <PickOne
              name="Size"
              value={options.size}
              onPick={(size) => set({ size })}
              options={SIZES.map(sized)}
            />
          )}
          <BesideIt subject={subject} beside={printing.beside} onBeside={printing.setBeside} />
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
            {mayBeClear(options.form) && (
              <Tick
                label="Without the paper"
                checked={options.clear}
                onChange={(clear) => set({ clear })}
              />
            )}
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
          <p className="quiet">{soundSaid(subject, options.form)}</p>
          {printing.underWay.map((job) => (
            <JobProgress key={job.id} job={job} onCancel={() => printing.cancel(job.id)} />
          ))}
        </Modal.Body>
        <Modal.Footer>
          <Link className="btn btn-quiet me-auto" to={`/productions/${subject.production}/prints`}>
            All prints
          </Link>
          <button type="button" className="btn btn-paper" onClick={() => printing.setOpen(false)}>
            Close
          </button>
          <button
            type="button"
            className="btn btn-paper"
            title="On the night list: not before one in the morning"
            disabled={!mayAsk}
            onClick={() => printing.print(tonight(new Date()))}
          >
            Tonight
          </button>
          <button type="submit" className="btn btn-lamp" disabled={!mayAsk}>
            Print it
          </button>
        </Modal.Footer>
      </form>
    </Modal>
  );
}

const sized = (size: string) => ({ id: size, name: size.replace('x', ' × ') });

const soundSaid = ({ hasSound, room }: PrintSubject, form: PrintForm): string => {
  if (!isFilm(form)) return 'Pictures have no sound.';
  if (hasSound) return 'Its sound goes with it, mixed.';
  return room === 'scenes' ? 'The scene has no sound.' : 'It has no sound.';
};

/** Which frames: all or the loop, how often, and which of them a contact sheet has. */
function FramesWanted({ printing, set }: OptionsProps) {
  const { options, subject, loop } = printing;
  const { form } = options;
  const isLoop = loop !== null && options.part === 'loop';
  const cycle = isFilm(form) ? 'the cycle' : 'a round';
  const all = subject.isCycle ? cycle : 'all';
  return (
    <>
      <FieldLine name="Frames">
        <Choice<PrintOptions['part']>
          label="Frames"
          value={isLoop ? 'loop' : 'whole'}
          onChange={(part) => set({ part })}
          options={[
            { value: 'whole', text: all },
            { value: 'loop', text: loop ? `the loop, ${loop}` : 'the loop' },
          ]}
          disabled={!loop}
        />
      </FieldLine>
      {isFilm(form) && isLoop && (
        <FieldLine name="Rounds">
          <Rounds label="Rounds of the loop" options={options} set={set} />
        </FieldLine>
      )}
      {isFilm(form) && !isLoop && subject.isCycle && (
        <FieldLine name="It goes on for">
          <Choice<PrintOptions['lasts']>
            label="It goes on for"
            value={options.lasts}
            onChange={(lasts) => set({ lasts })}
            options={[
              { value: 'rounds', text: 'rounds' },
              { value: 'seconds', text: 'seconds' },
            ]}
          />
          {options.lasts === 'rounds' ? (
            <Rounds label="Rounds of the cycle" options={options} set={set} />
          ) : (
            <NumberBox
              label="Seconds of the cycle"
              value={options.seconds}
              decimals={2}
              smallest={0.1}
              largest={600}
              onCommit={(seconds) => set({ seconds })}
            />
          )}
        </FieldLine>
      )}
      {(isFilm(form) || isMoving(form)) && (
        <PickOne
          name="Rate"
          value={String(options.rate)}
          onPick={(rate) => set({ rate: rate === OWN_RATE ? null : Number(rate) })}
          options={[
            { id: OWN_RATE, name: `its own, ${shownRate(subject.framesPerSecond)}` },
            ...RATES.map((rate) => ({ id: String(rate), name: `${rate} fps` })),
          ]}
        />
      )}
      {isMoving(form) && <p className="quiet">It goes round by itself, for ever.</p>}
      {isContact(form) && (
        <FieldLine name="Of them">
          <Choice<'nth' | 'keys'>
            label="Which of them"
            value={options.keys ? 'keys' : 'nth'}
            onChange={(which) => set({ keys: which === 'keys' })}
            options={[
              { value: 'nth', text: 'every so many' },
              { value: 'keys', text: 'those with keys' },
            ]}
          />
          {!options.keys && (
            <NumberBox
              label="Every so many frames"
              value={options.every}
              smallest={1}
              largest={1000}
              onCommit={(every) => set({ every })}
            />
          )}
        </FieldLine>
      )}
    </>
  );
}

const OWN_RATE = 'null';
const shownRate = (fps: number): string => `${Number(fps.toFixed(3))} fps`;

interface RoundsProps {
  readonly label: string;
  readonly options: PrintOptions;
  readonly set: (part: Partial<PrintOptions>) => void;
}

function Rounds({ label, options, set }: RoundsProps) {
  return (
    <NumberBox
      label={label}
      value={options.rounds}
      smallest={1}
      largest={100}
      onCommit={(rounds) => set({ rounds })}
    />
  );
}

interface BesideProps {
  readonly subject: PrintSubject;
  readonly beside: Beside;
  readonly onBeside: (beside: Beside) => void;
}

/** What stands at the left of it: an earlier revision, or what a take was. */
function BesideIt({ subject, beside, onBeside }: BesideProps) {
  if (subject.room === 'takes')
    return (
      <Tick
        label="Beside it what was captured"
        checked={beside === 'captured'}
        onChange={(isOn) => onBeside(isOn ? 'captured' : null)}
      />
    );
  if (subject.revision < 2) return null;
  const shown = typeof beside === 'number' ? beside : null;
  return (
    <FieldLine name="Beside it">
      <Tick
        label="An earlier revision"
        checked={shown !== null}
        onChange={(isOn) => onBeside(isOn ? subject.revision - 1 : null)}
      />
      {shown !== null && (
        <NumberBox
          label="The revision at the left"
          value={shown}
          smallest={1}
          largest={subject.revision}
          onCommit={onBeside}
        />
      )}
    </FieldLine>
  );
}
