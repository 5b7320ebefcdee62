import { type KeyboardEvent, type PointerEvent, useState } from 'react';
import type { LineEdit } from '../../../api/lines';
import { startDraw } from '../../../app/drawing';
import { LABEL_WIDTH, type Scale, xOf } from '../../../desk/scale';
import { useFrame } from '../../../player/useFrame';
import type { VoiceRoomParts } from '../room';
import { type PhoneHere, phonesOf, rangeOf, wordAt, written } from '../spoken';
import { useWordDraw, WordWriter } from './WordWriter';

interface RowsProps {
  readonly room: VoiceRoomParts;
  readonly scale: Scale;
}

const WORDS_HEIGHT = 28;
const PHONES_HEIGHT = 26;
const GRIP = 7;
const STEP_SECONDS = 0.01;
/** Narrower than this a phone’s name does not fit. */
const LEAST_NAME = 11;

/** Words and phones under their brackets; where they begin can be drawn, and stepped by keys. */
export function SpokenRows({ room, scale }: RowsProps) {
  const { sheet, player, goTo } = room;
  const words = sheet.reading?.words ?? [];
  const drawing = useWordDraw({ room, scale });
  const frame = useFrame(player);
  const phones = phonesOf(words);
  const x = (seconds: number) => xOf(scale, seconds * sheet.fps);
  const now = frame / sheet.fps;
  const here = wordAt(words, now + 0.5 / sheet.fps);
  const isSeen = (start: number, end: number) => x(end) > LABEL_WIDTH && x(start) < scale.width;
  const firstOf = new Map(phones.map(({ word, place }) => [word, place]).reverse() as never);
  return (
    <>
      <div
        className="voice-row voice-words"
        style={{ height: WORDS_HEIGHT }}
        onPointerDown={drawing.grab}
      >
        <span className="row-name">Words</span>
        {!words.length && <RowEmpty room={room} />}
        {sheet.reading?.pauses?.map(
          ({ start, end }) =>
            isSeen(start, end) &&
            x(end) - x(start) > 38 && (
              <span
                key={start}
                className="pause"
                style={{ left: x(start), width: x(end) - x(start) }}
              >
                pause
              </span>
            ),
        )}
        {words.map((word, place) =>
          isSeen(word.start, word.end) ? (
            <button
              // biome-ignore lint/suspicious/noArrayIndexKey: words are told apart by their places
              key={place}
              type="button"
              className={`word ${place === here && now < word.end ? 'is-here' : ''} ${word.fits === false ? 'is-missing' : ''}`}
              style={{ left: x(word.start), width: Math.max(3, x(word.end) - x(word.start)) }}
              title={
                word.fits === false
                  ? `“${word.word}” is not heard here`
                  : `${word.word}: fits ${Math.round(100 * (word.confidence ?? 1))} %`
              }
              onClick={() => goTo(rangeOf(word, sheet).start)}
              onDoubleClick={() => {
                player.setRange(rangeOf(word, sheet));
                player.play();
              }}
            >
              {word.word}
            </button>
          ) : null,
        )}
        {drawing.drawn && (
          <i
            className="word-drawn"
            style={{
              left: x(drawing.drawn.start),
              width: x(drawing.drawn.end) - x(drawing.drawn.start),
            }}
          />
        )}
        {sheet.accents.map(({ seconds, word }) =>
          isSeen(seconds, seconds + 0.01) ? (
            <i
              key={seconds}
              className="accent"
              style={{ left: x(seconds) }}
              title={`An accent: the body can hit “${word}” here`}
            />
          ) : null,
        )}
        {words.map((word, place) => {
          const first = firstOf.get(place as never) as number | undefined;
          const phone = first === undefined ? undefined : phones[first];
          return phone && isSeen(word.start, word.end) ? (
            <Boundary
              key={`edge ${phone.place}`}
              room={room}
              scale={scale}
              here={phone}
              name={`Where “${word.word}” begins`}
            />
          ) : null;
        })}
        <WordWriter room={room} scale={scale} />
      </div>
      <div className="voice-row voice-phones" style={{ height: PHONES_HEIGHT }}>
        <span className="row-name">Phones</span>
        {phones.map((one) => {
          const { phone, place } = one;
          if (!isSeen(phone.start, phone.end)) return null;
          const wide = x(phone.end) - x(phone.start);
          const isHere = phone.start <= now + 1e-6 && now < phone.end;
          return (
            <span
              key={place}
              className={`phone number ${isHere ? 'is-here' : ''} ${phone.stressed ? 'is-stressed' : ''} ${phone.by_hand ? 'is-by-hand' : ''}`}
              style={{ left: x(phone.start), width: wide }}
              title={`${written(phone.phone)}, ${phone.start.toFixed(3)} to ${phone.end.toFixed(3)} s${phone.by_hand ? ', by hand' : ''}`}
            >
              {wide >= LEAST_NAME ? written(phone.phone) : ''}
            </span>
          );
        })}
        {phones.map((one) =>
          isSeen(one.phone.start, one.phone.end) ? (
            <Boundary
              key={one.place}
              room={room}
              scale={scale}
              here={one}
              name={`Where ${written(one.phone.phone)} of “${words[one.word]?.word}” begins`}
            />
          ) : null,
        )}
      </div>
    </>
  );
}

function RowEmpty({ room }: { readonly room: VoiceRoomParts }) {
  const { sheet } = room;
  const says = sheet.reading?.rough?.length
    ? 'Read roughly, from the sound alone: no words'
    : sheet.text
      ? 'Not read yet: press “Expose the line”'
      : 'No text yet: paste it on the card “The text”, or draw here and write words';
  return <span className="row-empty quiet">{says}</span>;
}

interface BoundaryProps extends RowsProps {
  readonly here: PhoneHere;
  readonly name: string;
}

/** Where a phone begins: drawn along, or stepped by hundredths of a second. */
function Boundary({ room, scale, here, name }: BoundaryProps) {
  const { sheet, line, onEdit, onPreview } = room;
  const [isDrawn, setDrawn] = useState(false);
  const { start } = here.phone;
  if (!line.may_change) return null;
  const at = (seconds: number): LineEdit => ({
    kind: 'move_boundary',
    phone: here.place,
    seconds: Math.max(0, seconds),
  });
  const grab = (event: PointerEvent<HTMLElement>) => {
    if (event.button !== 0) return;
    event.preventDefault();
    const { clientX, clientY } = event;
    event.currentTarget.focus();
    const to = (dx: number) => start + dx / scale.pixelsPerFrame / sheet.fps;
    startDraw(clientX, clientY, {
      onMove: (dx) => {
        setDrawn(true);
        onPreview(at(to(dx)));
      },
      onDrop: (dx) => {
        setDrawn(false);
        onEdit(at(to(dx)));
      },
      onPress: () => {},
      onCancel: () => {
        setDrawn(false);
        onPreview(null);
      },
    });
  };
  const step = (event: KeyboardEvent<HTMLElement>) => {
    const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    onEdit(at(start + way * STEP_SECONDS * (event.shiftKey ? 5 : 1)));
  };
  return (
    <span
      className={`boundary ${isDrawn ? 'is-drawn' : ''}`}
      style={{ left: xOf(scale, start * sheet.fps) - GRIP / 2, width: GRIP }}
      role="slider"
      tabIndex={0}
      aria-label={name}
      aria-valuenow={Number(start.toFixed(3))}
      aria-valuemin={0}
      aria-valuemax={sheet.seconds}
      aria-valuetext={`${start.toFixed(2)} s`}
      onPointerDown={grab}
      onKeyDown={step}
    />
  );
}
