import { useMutation } from '@tanstack/react-query';
import { newId } from '../../../api/newId';
import { proposeCuts } from '../../../api/takes';
import { COLOURS } from '../../../app/ColourChoice';
import { IconButton, NumberBox } from '../../../app/controls';
import { NameField } from '../../../app/NameField';
import { useNotices } from '../../../app/notices';
import type { TakesRoomParts } from '../room';
import { withTakesKey } from '../takesKeys';
import type { TakeHands } from '../useTakeActions';

interface CardProps {
  readonly room: TakesRoomParts;
  readonly hands: TakeHands;
}

/** Beats of the take: each becomes a clip that is named after it. */
export function BeatsCard({ room, hands }: CardProps) {
  const { take, cleaned, onEdit } = room;
  const { beats, length_frames: length } = take.take;
  const notices = useNotices();
  const mayChange = take.may_change;
  const cuts = useMutation({
    mutationFn: () => proposeCuts(take.id),
    onError: (problem) => notices.trouble(problem),
  });
  const goTo = (frame: number) => {
    const at = cleaned?.at.findIndex((source) => source >= frame) ?? -1;
    if (at >= 0) room.goTo(at);
  };
  const add = (start: number, end: number, name: string) =>
    onEdit({
      kind: 'add_beat',
      beat: newId(),
      name,
      colour: COLOURS[beats.length % COLOURS.length],
      start,
      end,
    });
  return (
    <>
      <h2>Cut up</h2>
      {!beats.length && (
        <p className="quiet">
          Mark beats while it plays (P): each becomes a clip, named after it, in one step.
        </p>
      )}
      <ul className="beat-list">
        {beats.map((beat) => (
          <li key={beat.id}>
            <button
              type="button"
              className={`beat-chip is-${beat.colour}`}
              title="Go to its start"
              aria-label={`Go to ${beat.name}`}
              onClick={() => goTo(beat.start)}
            />
            <NameField
              label={`Name of ${beat.name}`}
              value={beat.name}
              disabled={!mayChange}
              onCommit={(name) => onEdit({ kind: 'set_beat', beat: beat.id, name })}
            />
            <NumberBox
              label={`First frame of ${beat.name}`}
              value={beat.start}
              smallest={0}
              largest={beat.end - 1}
              disabled={!mayChange}
              onCommit={(start) => onEdit({ kind: 'set_beat', beat: beat.id, start })}
            />
            <NumberBox
              label={`End of ${beat.name}`}
              value={beat.end}
              smallest={beat.start + 1}
              largest={length}
              disabled={!mayChange}
              onCommit={(end) => onEdit({ kind: 'set_beat', beat: beat.id, end })}
            />
            {mayChange && (
              <IconButton
                icon="x-lg"
                label={`Delete the beat ${beat.name}`}
                onClick={() => onEdit({ kind: 'remove_beat', beat: beat.id })}
              />
            )}
          </li>
        ))}
      </ul>
      {cuts.data && (
        <ul className="beat-list" aria-label="Proposed cuts">
          {cuts.data.cuts.map((cut) => (
            <li key={`${cut.start} ${cut.kind}`}>
              <button type="button" className="btn btn-quiet" onClick={() => goTo(cut.start)}>
                {cut.kind} <span className="number">{cut.start}</span>–
                <span className="number">{cut.end}</span>
              </button>
              {mayChange && (
                <button
                  type="button"
                  className="btn btn-paper"
                  onClick={() => add(cut.start, cut.end, cut.kind === 'turn' ? 'Turn' : 'Still')}
                >
                  Mark
                </button>
              )}
            </li>
          ))}
        </ul>
      )}
      {mayChange && (
        <p className="card-line">
          <button type="button" className="btn btn-paper" onClick={() => cuts.mutate()}>
            Propose cuts
          </button>
          <span className="grow" />
          <button
            type="button"
            className="btn btn-lamp"
            disabled={!beats.length || hands.isMaking}
            title={withTakesKey('Every beat becomes a clip', 'cutUp')}
            onClick={hands.cutUp}
          >
            Cut it up
          </button>
        </p>
      )}
    </>
  );
}
