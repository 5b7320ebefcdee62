import { keepPreviousData, useQuery } from '@tanstack/react-query';
import {
  type PointerEvent,
  useEffect,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
} from 'react';
import { takeCurves } from '../../api/takes';
import { IconButton } from '../../app/controls';
import { startDraw } from '../../app/drawing';
import { Playhead } from '../../desk/Playhead';
import { DeskPatterns } from '../../desk/patterns';
import { Ruler } from '../../desk/Ruler';
import { fitScale, frameAt, type Scale, xOf } from '../../desk/scale';
import { StrandsStrip } from '../../desk/strands/StrandsStrip';
import { useWidth } from '../../desk/useWidth';
import { LaidHead } from '../../player/laidHead';
import type { Player } from '../../player/player';
import { DeskGrip } from '../document/DeskGrip';
import { CurveRow } from './CurveRow';
import { LostRow } from './LostRow';
import type { TakesRoomParts } from './room';
import { sourceHands } from './sourceHands';
import { sourceAt, sourceEnd } from './sources';
import { withTakesKey } from './takesKeys';
import type { TakeHands } from './useTakeActions';

interface DeskProps {
  readonly room: TakesRoomParts;
  readonly hands: TakeHands;
}

/** The take's time: transport, curves of some joints in both, contacts, and the strands of its conforming. */
export function TakeDesk({ room, hands }: DeskProps) {
  const { take, cleaned, player, memory, change, joints, loop, looked } = room;
  const { place, width } = useWidth();
  const length = cleaned?.frames ?? 1;
  const scale = useMemo(() => fitScale(length, Math.max(320, width)), [length, width]);
  const straight = useMemo(() => new LaidHead(player, null), [player]);
  const shown = joints.slice(0, 3);
  const curves = useQuery({
    queryKey: ['take curves', take.id, take.content, looked.from_frame, looked.quick, shown],
    queryFn: ({ signal }) => takeCurves(take.id, { ...looked, joints: [...shown] }, signal),
    enabled: cleaned !== null && shown.length > 0,
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  const latest = useRef({ room, scale });
  latest.current = { room, scale };
  const strandActions = useMemo(() => sourceHands(() => latest.current), []);
  const [pin, setPin] = useState<number | null>(null);
  return (
    <section className="take-desk" aria-label="Time">
      <DeskGrip onHeight={(pixels) => change({ deskHeight: pixels })} />
      <TakeTransport room={room} hands={hands} />
      <div className="take-time" ref={place}>
        <svg width="0" height="0" className="d-block" aria-hidden="true">
          <DeskPatterns />
        </svg>
        <Ruler
          scale={scale}
          length={length}
          firstFrame={0}
          framesPerSecond={cleaned?.frames_per_second ?? 24}
          player={player}
          head={null}
        />
        {shown.map((joint) => (
          <CurveRow
            key={joint}
            label={cleaned?.labels[cleaned.joints.indexOf(joint)] ?? joint}
            curves={(curves.data ?? []).filter((curve) =>
              curve.channel.startsWith(`${joint}.turn.`),
            )}
            spikes={(cleaned?.spikes ?? []).filter((spike) =>
              goesWith(room, spike.mark.joint, joint),
            )}
            loop={loop}
            scale={scale}
          />
        ))}
        <ContactRow room={room} scale={scale} />
        <LostRow room={room} scale={scale} />
        {memory.strands && cleaned && (
          <StrandsStrip
            strands={{ ...cleaned.strands, is_straight: !take.take.by_hand.elastic } as never}
            scale={scale}
            of="take"
            name="Conformed"
            words={['clip', 'source']}
            colour="var(--vermilion)"
            firstPlayed={0}
            firstSource={0}
            chosenPin={pin}
            head={straight}
            mayChange={take.may_change}
            actions={{ ...strandActions, choosePin: (_of, chosen) => setPin(chosen) }}
          />
        )}
        <Playhead player={player} scale={scale} firstFrame={0} />
      </div>
    </section>
  );
}

/** Whether a spike of the take's joint shows on a row: the figure's joint that plays it. */
function goesWith(room: TakesRoomParts, captured: string, shown: string): boolean {
  const mapping = room.take.take.onto?.mapping;
  return (mapping ? mapping[captured] : captured) === shown;
}

function TakeTransport({ room, hands }: DeskProps) {
  const { take, player, cleaned, onEdit } = room;
  const state = useSyncExternalStore(player.subscribe, player.snapshot);
  return (
    <div className="transport" role="toolbar" aria-label="Play">
      <IconButton
        icon="skip-start-fill"
        label={withTakesKey('First frame', 'first')}
        onClick={() => player.goTo(0)}
      />
      <IconButton
        icon={state.playing ? 'pause-fill' : 'play-fill'}
        label={withTakesKey(state.playing ? 'Pause' : 'Play', 'play')}
        className="play"
        onClick={() => player.toggle()}
      />
      <IconButton
        icon="skip-end-fill"
        label={withTakesKey('Last frame', 'last')}
        onClick={() => player.goTo(state.length - 1)}
      />
      <FrameBox player={player} room={room} />
      <span className="quiet legend">
        <i className="dotted" /> original <i className="solid" /> cleaned <i className="tick-key" />{' '}
        key
      </span>
      <span className="grow" />
      {cleaned?.keys !== null && cleaned?.keys !== undefined && (
        <span className="quiet number">{cleaned.keys.toLocaleString('en')} keys</span>
      )}
      {take.may_change && (
        <>
          <PinBox room={room} />
          {take.take.by_hand.elastic && (
            <button
              type="button"
              className="btn btn-quiet"
              onClick={() => onEdit({ kind: 'forget_elastic' })}
            >
              Take out all pins
            </button>
          )}
          <button
            type="button"
            className="btn btn-paper"
            disabled={hands.isMaking || !cleaned}
            title={withTakesKey('What came out, as a clip of the library', 'keep')}
            onClick={hands.keep}
          >
            Keep as a clip
          </button>
        </>
      )}
    </div>
  );
}

/** “Source 90 plays at 36”, typed. */
function PinBox({ room }: { readonly room: TakesRoomParts }) {
  const { player, cleaned, onEdit } = room;
  const [text, setText] = useState('');
  const match = /^\s*(\d+)\D+(\d+)\s*$/.exec(text);
  return (
    <form
      className="pin-box"
      onSubmit={(event) => {
        event.preventDefault();
        if (!match) return;
        const played = Number(match[2]) + (cleaned?.played_from ?? 0);
        onEdit({ kind: 'pin_source', source: Number(match[1]), played, ripple: true });
        player.pause();
        player.goTo(Number(match[2]));
        setText('');
      }}
    >
      <input
        className="form-control"
        aria-label="Pin a source frame: source at frame"
        placeholder="source at frame"
        title="Write 90 at 36: source 90 plays at 36"
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
    </form>
  );
}

function FrameBox({ player, room }: { readonly player: Player; readonly room: TakesRoomParts }) {
  const frameText = useRef<HTMLSpanElement>(null);
  const sourceText = useRef<HTMLElement>(null);
  const { cleaned } = room;
  useEffect(() => {
    const show = (frame: number) => {
      if (frameText.current) frameText.current.textContent = String(frame).padStart(3, '0');
      const at = cleaned?.at[frame];
      if (sourceText.current)
        sourceText.current.textContent = at === undefined ? '' : `source ${Math.round(at)}`;
    };
    show(player.frame);
    return player.onFrame(show);
  }, [player, cleaned]);
  return (
    <span className="frame-box" title="Frame from 0, and the take’s frame that plays">
      <span ref={frameText} data-testid="frame" />
      <small ref={sourceText} data-testid="source" />
    </span>
  );
}

const ROW = 15;

/** Contacts as bars, left solid and right hatched; drawn over they are on the ground, with Alt off it. */
function ContactRow({ room, scale }: { readonly room: TakesRoomParts; readonly scale: Scale }) {
  const { take, cleaned, onEdit, onPreview } = room;
  const [drawn, setDrawn] = useState<{ side: string; from: number; to: number } | null>(null);
  const sides = ['left', 'right'] as const;
  const grab = (event: PointerEvent<SVGRectElement>, side: 'left' | 'right') => {
    if (event.button !== 0 || !take.may_change || !cleaned) return;
    const box = event.currentTarget.closest('svg')?.getBoundingClientRect();
    const from = frameAt(scale, event.clientX - (box?.left ?? 0));
    const planted = !event.altKey;
    const markTo = (to: number) => ({
      kind: 'paint_foot' as const,
      mark: {
        side,
        start: sourceAt(cleaned, Math.round(Math.min(from, to))),
        end: sourceEnd(cleaned, Math.round(Math.max(from, to)) + 1, take.take.length_frames),
        planted,
      },
    });
    startDraw(event.clientX, event.clientY, {
      onMove: (dx) => setDrawn({ side, from, to: from + dx / scale.pixelsPerFrame }),
      onDrop: (dx) => {
        setDrawn(null);
        onEdit(markTo(from + dx / scale.pixelsPerFrame));
      },
      onPress: () => {
        setDrawn(null);
        room.player.goTo(Math.round(from));
      },
      onCancel: () => {
        setDrawn(null);
        onPreview(null);
      },
    });
  };
  return (
    <div className="take-row contact-row">
      <span className="row-label">Contacts</span>
      <svg width={scale.width} height={2 * ROW + 6} role="img" aria-label={contactsSaid(room)}>
        {sides.map((side, row) => (
          <g key={side} transform={`translate(0 ${3 + row * ROW})`}>
            <text className="side-letter" x={xOf(scale, scale.start) - 12} y={ROW - 4}>
              {side === 'left' ? 'L' : 'R'}
            </text>
            <rect
              className="contact-ground"
              x={xOf(scale, 0)}
              y={1}
              width={Math.max(0, (cleaned?.frames ?? 0) * scale.pixelsPerFrame)}
              height={ROW - 3}
              onPointerDown={(event) => grab(event, side)}
            >
              <title>Draw to put the foot on the ground; with Alt off it</title>
            </rect>
            {(cleaned?.plants ?? [])
              .filter((plant) => plant.side === side)
              .map((plant) => (
                <rect
                  key={plant.start}
                  className={`contact is-${side}`}
                  x={xOf(scale, plant.start)}
                  y={2}
                  width={Math.max(1, (plant.end - plant.start) * scale.pixelsPerFrame - 1)}
                  height={ROW - 5}
                  pointerEvents="none"
                />
              ))}
            {drawn?.side === side && (
              <rect
                className="contact-drawn"
                x={xOf(scale, Math.min(drawn.from, drawn.to))}
                y={1}
                width={Math.abs(drawn.to - drawn.from) * scale.pixelsPerFrame}
                height={ROW - 3}
                pointerEvents="none"
              />
            )}
          </g>
        ))}
      </svg>
    </div>
  );
}

function contactsSaid({ cleaned }: TakesRoomParts): string {
  const count = (side: string) =>
    cleaned?.plants.filter((plant) => plant.side === side).length ?? 0;
  return `Contacts: ${count('left')} of the left foot, ${count('right')} of the right`;
}
