export type Mapping = Readonly<Record<string, string>>;

interface FitTableProps {
  /** The joints that are to be played, and those that can play them. */
  readonly theirs: readonly string[];
  readonly own: readonly { readonly name: string; readonly label: string }[];
  readonly of: string;
  readonly plays: string;
  readonly mapping: Mapping;
  /** How a joint was met: by name, proposed, by hand. */
  readonly how: (joint: string) => string;
  readonly onMapping: (mapping: Mapping) => void;
}

/** Which joint plays which: every meeting is named, and open to change. */
export function FitTable({ theirs, own, of, plays, mapping, how, onMapping }: FitTableProps) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable
    <section className="fit-table" tabIndex={0} aria-label="Joints">
      <table>
        <thead>
          <tr>
            <th>Of {of}</th>
            <th>plays {plays}’s</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {theirs.map((joint) => (
            <tr key={joint} className={mapping[joint] ? '' : 'is-dropped'}>
              <td>{joint}</td>
              <td>
                <select
                  aria-label={`${joint} plays`}
                  value={mapping[joint] ?? ''}
                  onChange={(event) => onMapping(changed(mapping, joint, event.target.value))}
                >
                  <option value="">nothing</option>
                  {own.map(({ name, label }) => (
                    <option key={name} value={name}>
                      {label}
                    </option>
                  ))}
                </select>
              </td>
              <td className="quiet">{how(joint)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** A joint of the figure is played by one: the newest meeting takes it from another. */
function changed(mapping: Mapping, joint: string, own: string): Mapping {
  const others = Object.entries(mapping).filter(
    ([theirs, taken]) => theirs !== joint && taken !== own,
  );
  return Object.fromEntries(own ? [...others, [joint, own]] : others);
}
