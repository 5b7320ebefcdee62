import type { JoinReport } from '../../../api/joins';

interface ReadOutsProps {
  readonly report: JoinReport;
  readonly firstFrame: number;
  readonly onGo: (frame: number) => void;
}

/** What the join does, where it is worst; pressing one goes there. */
export function ReadOuts({ report, firstFrame, onGo }: ReadOutsProps) {
  const { slide, jump, speed, lowered } = report;
  const rows = [
    { name: 'Foot slide', worst: slide, text: `${slide.amount.toFixed(1)} cm` },
    { name: 'Jump', worst: jump, text: `${jump.amount.toFixed(1)}°` },
    { name: 'Speed change', worst: speed, text: `${speed.amount.toFixed(2)} m/s` },
    { name: 'Root lowered', worst: lowered, text: `${lowered.amount.toFixed(1)} cm` },
  ];
  return (
    <>
      <ul className="read-outs" aria-label="What the join does">
        {rows.map(({ name, worst, text }) => (
          <li key={name}>
            <button
              type="button"
              title={`${worst.label || name}, worst at ${Math.round(worst.frame) + firstFrame}: go there`}
              onClick={() => onGo(Math.round(worst.frame))}
            >
              <span>
                {name} <small>{worst === jump && worst.label}</small>
              </span>
              <span className={`number ${gradeOf(worst)}`}>{text}</span>
              <small className="number">at {Math.round(worst.frame) + firstFrame}</small>
            </button>
          </li>
        ))}
        <li className="read-out-plain">
          <span>Heading</span>
          <span className="number">{signed(report.heading_change_degrees)}°</span>
          <small>turned</small>
        </li>
      </ul>
      {report.swapped && (
        <p className="says is-warning">
          Left and right change places: the legs would cross. Join on the same foot.
        </p>
      )}
    </>
  );
}

/** Clean or not, by the measure that came with it. */
function gradeOf({ amount, clean }: JoinReport['slide']): string {
  if (clean === null || clean === undefined) return '';
  return amount < clean ? 'is-clean' : 'is-off';
}

const signed = (degrees: number): string => {
  const text = Math.abs(degrees).toFixed(1);
  return text === '0.0' ? '0' : `${degrees < 0 ? '−' : '+'}${text}`;
};
