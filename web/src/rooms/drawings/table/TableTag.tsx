import { useFrame } from '../../../player/useFrame';
import { type DrawingsRoomParts, FIRST_FRAME } from '../room';
import { neighbours, shownAt } from '../shown';
import { type PointSpacing, spacingOf } from '../spacing';

/** What lies on the table, in words: the drawing, its neighbours, and how far its point goes. */
export function TableTag({ room }: { readonly room: DrawingsRoomParts }) {
  const { player, sheet, drawings, memory, looked } = room;
  const frame = useFrame(player);
  const exposed = shownAt(sheet.shown, frame);
  const number = looked ?? exposed?.drawing;
  const drawing = number === undefined ? undefined : drawings.get(number);
  const isOther = looked !== null;
  const spacing = spacingOf(sheet, memory.point);
  const shows = memory.light && !isOther;
  const before = shows ? neighbours(sheet.shown, frame, -1, memory.before) : [];
  const after = shows ? neighbours(sheet.shown, frame, 1, memory.after) : [];
  return (
    <>
      <div className="table-tag">
        <h2>{number === undefined ? 'No drawing' : `Drawing ${number}`}</h2>
        {drawing ? (
          <>
            {!isOther && exposed && (
              <p>
                held <b className="number">{exposed.length}</b> fr, {exposed.frame + FIRST_FRAME}
                {exposed.length > 1 && ` to ${exposed.frame + exposed.length - 1 + FIRST_FRAME}`}
              </p>
            )}
            <p className="number">
              {drawing.picture.width_pixels.toLocaleString('en-GB')} ×{' '}
              {drawing.picture.height_pixels.toLocaleString('en-GB')}
            </p>
            {isOther && <p>looked at by itself</p>}
          </>
        ) : (
          number !== undefined && <p className="is-lacking">is not in the set</p>
        )}
      </div>
      {(before.length > 0 || after.length > 0) && (
        <div className="table-legend">
          {before.length > 0 && <p className="is-before">before: {before.join(', ')}</p>}
          {after.length > 0 && <p className="is-after">after: {after.join(', ')}</p>}
        </div>
      )}
      {spacing && spacing.steps.length > 0 && (
        <section className="table-spacing" aria-label={`Spacing of ${spacing.point}`}>
          <h3>Spacing of {spacing.point}</h3>
          <ol>
            {eachOnce(spacing.steps).map((step) => (
              <li
                key={`${step.before} ${step.after}`}
                className={step.pixels === spacing.largest?.pixels ? 'is-largest' : ''}
              >
                <span className="number">
                  {step.before} → {step.after}
                </span>
                <b className="number">{Math.round(step.pixels)} px</b>
              </li>
            ))}
          </ol>
          {spacing.largest && (
            <p>
              largest <b className="number">{Math.round(spacing.largest.pixels)} px</b>, from{' '}
              {spacing.largest.before} to {spacing.largest.after}
            </p>
          )}
        </section>
      )}
    </>
  );
}

const MOST_STEPS = 12;

/** The steps of a point, one that comes again told once. */
const eachOnce = (steps: PointSpacing['steps']): PointSpacing['steps'] =>
  [...new Map(steps.map((step) => [`${step.before} ${step.after}`, step])).values()].slice(
    0,
    MOST_STEPS,
  );
