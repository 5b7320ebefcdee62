import { useQuery } from '@tanstack/react-query';
import { useId } from 'react';
import { answered, api, type Schemas, sentence } from '../../../api/client';
import { ColourChoice } from '../../../app/ColourChoice';
import { Choice, FieldLine, NumberBox } from '../../../app/controls';
import { useLibrary } from '../useLibrary';
import { FilePreview } from './FilePreview';
import { FitReport } from './FitReport';
import { rateText, UNITS, type Wish } from './wish';

interface ChoicesProps {
  readonly production: string;
  readonly report: Schemas['FileReport'];
  readonly wish: Wish;
  readonly onWish: (part: Partial<Wish>) => void;
}

/** What a file is, moving, and what is to be made of it. */
export function FileChoices({ production, report: first, wish, onWish }: ChoicesProps) {
  const id = useId();
  const library = useLibrary(production);
  const ranged = useQuery({
    queryKey: ['file', production, first.file, wish.start, wish.end],
    queryFn: () =>
      answered(
        api.GET('/api/productions/{production_id}/files/{sha256}', {
          params: {
            path: { production_id: production, sha256: first.file },
            query: { start: wish.start, end: wish.end },
          },
        }),
      ),
    placeholderData: (before) => before ?? first,
  });
  const report = ranged.data ?? first;
  const rates = [...new Set([first.rate, '24', '25', '30', '60'])];
  const height = first.height_in_file * wish.metresPerUnit;
  const isNamed = UNITS.some((unit) => unit.metres === wish.metresPerUnit);
  const figures = library.data?.figures.filter((figure) => !figure.archived) ?? [];

  return (
    <div className="file-choices">
      <div>
        <FilePreview production={production} report={first} wish={wish} onWish={onWish} />
        <p className="quiet mt-2">
          <span className="number">{report.joints}</span> joints,{' '}
          <span className="number">{report.channels}</span> channels,{' '}
          <span className="number">{first.frames}</span> frames at {rateText(first.rate)},{' '}
          <span className="number">{first.length_seconds.toFixed(2)}</span> s.
        </p>
        {report.cycle_length_frames !== null && wish.plays !== 'once' && (
          <p className="says mt-2">
            The last pose repeats the first: a cycle of {report.cycle_length_frames} frames.
          </p>
        )}
        {report.warnings.map((warning) => (
          <p key={warning} className="says is-warning mt-2">
            {warning}
          </p>
        ))}
        {ranged.isError && <p className="refusal mt-2">{sentence(ranged.error)}</p>}
      </div>
      <div className="d-flex flex-column gap-2">
        <div>
          <label className="form-label" htmlFor={`${id}-name`}>
            Name
          </label>
          <input
            id={`${id}-name`}
            className="form-control"
            value={wish.name}
            maxLength={120}
            required
            onChange={(event) => onWish({ name: event.target.value })}
          />
        </div>
        <FieldLine name="Bring it in as">
          <Choice
            label="Bring it in as"
            value={wish.as}
            onChange={(as) => onWish({ as })}
            options={[
              { value: 'clip', text: 'A clip', hint: 'Motion that is ready to be used' },
              { value: 'take', text: 'A take to clean', hint: 'Kept as it came, with a recipe' },
            ]}
          />
        </FieldLine>
        {first.why_a_take.length > 0 && (
          <p className="quiet">A take is proposed: {first.why_a_take.join(', ')}.</p>
        )}
        {wish.as === 'clip' && (
          <>
            <ColourChoice
              label="Colour of the clip"
              value={wish.colour}
              onChange={(colour) => onWish({ colour })}
            />
            <FieldLine name="Frames of the file">
              <span className="pair">
                <NumberBox
                  label="First frame"
                  value={wish.start}
                  smallest={0}
                  largest={wish.end - 1}
                  onCommit={(start) => onWish({ start })}
                />
                to
                <NumberBox
                  label="Last frame"
                  value={wish.end - 1}
                  smallest={wish.start}
                  largest={first.frames - 1}
                  onCommit={(last) => onWish({ end: last + 1 })}
                />
              </span>
            </FieldLine>
            <FieldLine name="Plays">
              <Choice
                label="Plays"
                value={wish.plays}
                onChange={(plays) => onWish({ plays })}
                options={[
                  {
                    value: 'found',
                    text:
                      report.cycle_length_frames !== null ? 'As found: cycle' : 'As found: once',
                  },
                  { value: 'cycle', text: 'Cycle' },
                  { value: 'once', text: 'Once' },
                ]}
              />
            </FieldLine>
            <div className="field-line">
              <label htmlFor={`${id}-rate`}>Keep at</label>
              <select
                id={`${id}-rate`}
                className="form-select w-auto"
                value={wish.rate}
                onChange={(event) => onWish({ rate: event.target.value })}
              >
                {rates.map((option) => (
                  <option key={option} value={option}>
                    {rateText(option)}
                    {option === first.rate ? ', as made' : ''}
                  </option>
                ))}
              </select>
            </div>
          </>
        )}
        <div className="field-line">
          <label htmlFor={`${id}-unit`}>Measured in</label>
          <span className="pair">
            <select
              id={`${id}-unit`}
              className="form-select w-auto"
              value={isNamed ? wish.metresPerUnit : ''}
              disabled={first.height_in_file === 0}
              onChange={(event) =>
                onWish({ metresPerUnit: Number(event.target.value) || first.metres_per_unit })
              }
            >
              {!isNamed && <option value="">scaled by height</option>}
              {UNITS.map((unit) => (
                <option key={unit.text} value={unit.metres}>
                  {unit.text}
                </option>
              ))}
            </select>
            <NumberBox
              label="Height in metres"
              value={height}
              decimals={3}
              unit="m tall"
              smallest={0.001}
              disabled={first.height_in_file === 0}
              onCommit={(metres) => onWish({ metresPerUnit: metres / first.height_in_file })}
            />
          </span>
        </div>
        <div className="field-line">
          <label htmlFor={`${id}-onto`}>Plays on</label>
          <select
            id={`${id}-onto`}
            className="form-select w-auto"
            value={wish.onto ?? ''}
            onChange={(event) => onWish({ onto: event.target.value || null, mapping: {} })}
          >
            <option value="">
              {report.known_figure ? `${report.known_figure}, as it is` : 'a lay figure of its own'}
            </option>
            {figures
              .filter((figure) => figure.name !== report.known_figure)
              .map((figure) => (
                <option key={figure.id} value={figure.id}>
                  {figure.name}, fitted
                </option>
              ))}
          </select>
        </div>
        {wish.onto === null && !report.known_figure && wish.as === 'clip' && (
          <input
            className="form-control"
            aria-label="Name of the lay figure"
            placeholder={`The lay figure’s name: ${wish.name}`}
            maxLength={120}
            value={wish.figureName}
            onChange={(event) => onWish({ figureName: event.target.value })}
          />
        )}
        {wish.onto !== null && wish.as === 'clip' && (
          <FitReport
            key={wish.onto}
            production={production}
            file={first.file}
            figure={wish.onto}
            metresPerUnit={wish.metresPerUnit}
            mapping={wish.mapping}
            onMapping={(mapping) => onWish({ mapping })}
          />
        )}
      </div>
    </div>
  );
}
