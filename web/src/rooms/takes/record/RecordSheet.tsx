import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { Modal } from 'react-bootstrap';
import { askStage, MOVES, type Move, readStage, type StageSeen } from '../../../api/stage';
import { useNotices } from '../../../app/notices';
import type { Figure } from '../../../stage/costume';
import { useLibrary } from '../../library/useLibrary';
import { LiveStage } from './LiveStage';
import { RecordDesk } from './RecordDesk';
import { Sitting } from './Sitting';
import { useRecording } from './useRecording';
import { useSheetKeys } from './useSheetKeys';
import './record.css';

const LOOK_AGAIN_MS = 2000;

interface SheetProps {
  readonly production: string;
  /** The figure that takes go onto at first. */
  readonly onto: string | null;
  readonly onClose: () => void;
}

/** Takes recorded from the capture stage, with whoever is captured live before one's eyes. */
export function RecordSheet({ production, onto, onClose }: SheetProps) {
  const id = useId();
  const queries = useQueryClient();
  const library = useLibrary(production);
  const stage = useQuery({
    queryKey: ['stage', production],
    queryFn: () => readStage(production),
    refetchInterval: LOOK_AGAIN_MS,
  });
  const hand = useRecording(production, stage.data?.recording ?? null);
  const [countdown, setCountdown] = useState(3);
  const [label, setLabel] = useState('take');
  const [plays, setPlays] = useState(onto ?? '');
  const look = () => queries.invalidateQueries({ queryKey: ['stage', production] });
  const seen = stage.data;
  // The client widens the tuples of the schema to lists.
  const figure = (seen?.figure ?? null) as Figure | null;
  const isThere = figure !== null;
  const record = () => {
    if (hand.isBusy) return;
    if (hand.under) hand.stop();
    else if (isThere)
      hand.arm({ label, countdown_seconds: countdown, clip_rate: '24', onto: plays || null });
  };
  const notices = useNotices();
  const ask = useMutation({
    mutationFn: (move: Move) => askStage(production, move),
    onSuccess: look,
    onError: (problem) => notices.trouble(problem),
  });
  useSheetKeys({
    record,
    throwAway: () => hand.under && hand.throwAway(),
    ask: (move) => isThere && ask.mutate(move),
  });
  return (
    <Modal
      show
      size="xl"
      // A key too many is not to end a take: while it is recorded the sheet stays.
      onHide={() => !hand.under && onClose()}
      backdrop="static"
      aria-labelledby={`${id}-title`}
    >
      <Modal.Header closeButton={!hand.under}>
        <Modal.Title id={`${id}-title`}>Record from the stage</Modal.Title>
      </Modal.Header>
      <Modal.Body className={`record-sheet ${hand.under ? 'is-armed' : ''}`}>
        <section className="record-stage" aria-label="Live">
          {figure && seen ? (
            <LiveStage
              production={production}
              figure={figure}
              run={seen.run}
              began={seen.began ?? 0}
              onGone={look}
            />
          ) : (
            <NoStage seen={seen} />
          )}
          <RecordDesk hand={hand} onRecord={record} canRecord={isThere} />
        </section>
        <aside className="record-side" aria-label="The stage">
          {isThere && seen && (
            <fieldset className="asks">
              <legend>Ask for</legend>
              {MOVES.map((move, place) => (
                <button
                  key={move}
                  type="button"
                  className="btn btn-paper"
                  aria-pressed={seen.doing === move}
                  title={`Ask who wears the suit: ${move} (${place + 1})`}
                  onClick={() => ask.mutate(move)}
                >
                  {move}
                </button>
              ))}
            </fieldset>
          )}
          <Sitting
            production={production}
            library={library.data}
            label={label}
            onLabel={setLabel}
            countdown={countdown}
            onCountdown={setCountdown}
            plays={plays}
            onPlays={setPlays}
            onOpen={onClose}
            isLocked={hand.under !== null}
          />
        </aside>
      </Modal.Body>
    </Modal>
  );
}

/** No stage answers: where it is listened for, and how the stand-in is started. */
function NoStage({ seen }: { readonly seen: StageSeen | undefined }) {
  return (
    <div className="no-stage" role="status">
      {seen ? (
        <>
          <b>{seen.says}</b>
          <p>
            Start the stand-in with <code>bin/start --capture-stage</code>, or by itself with{' '}
            <code>hours capture-stage --port {seen.address.split(':').at(-1)}</code>. This page
            looks again every other second.
          </p>
        </>
      ) : (
        <p>Listening for the stage …</p>
      )}
    </div>
  );
}
