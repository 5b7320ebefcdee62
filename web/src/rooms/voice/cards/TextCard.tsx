import { type FormEvent, useState } from 'react';
import { FieldLine } from '../../../app/controls';
import type { VoiceRoomParts } from '../room';
import { written } from '../spoken';
import type { VoiceHands } from '../useVoiceActions';
import { ReadingBar } from './ReadingBar';

interface Props {
  readonly room: VoiceRoomParts;
  readonly hands: VoiceHands;
}

const LANGUAGES = [
  ['en', 'English'],
  ['de', 'German'],
  ['fr', 'French'],
  ['es', 'Spanish'],
  ['ja', 'Japanese'],
] as const;

/** What is said, by whom; what of it is not heard; and how words are said. */
export function TextCard({ room, hands }: Props) {
  const { sheet, line, onEdit } = room;
  const [text, setText] = useState(sheet.text);
  const isChanged = text.trim() !== sheet.text;
  const mayChange = line.may_change;
  const { reading } = sheet;
  return (
    <div className="text-card">
      <textarea
        className="form-control"
        aria-label="What is said"
        placeholder="Paste what is said"
        rows={4}
        value={text}
        disabled={!mayChange}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => isChanged && onEdit({ kind: 'set_line_text', text: text.trim() })}
      />
      <FieldLine name="Who says it">
        <input
          className="form-control"
          aria-label="Who says it"
          defaultValue={sheet.speaker}
          key={sheet.speaker}
          maxLength={120}
          disabled={!mayChange}
          onBlur={({ target }) =>
            target.value.trim() !== sheet.speaker &&
            onEdit({ kind: 'set_speaker', speaker: target.value })
          }
        />
      </FieldLine>
      <FieldLine name="Language">
        <select
          className="form-select w-auto"
          aria-label="Language"
          value={sheet.language}
          disabled={!mayChange}
          onChange={({ target }) => onEdit({ kind: 'set_speaker', language: target.value })}
        >
          {LANGUAGES.map(([code, name]) => (
            <option key={code} value={code}>
              {name}
            </option>
          ))}
        </select>
      </FieldLine>
      {sheet.language !== 'en' && (
        <p className="quiet">
          Words are looked up in English only: type how they are said, or expose from the sound
          alone.
        </p>
      )}
      {reading && reading.not_heard.length > 0 && (
        <p className="refusal" role="note">
          Not heard: {reading.not_heard.map((word) => `“${word}”`).join(', ')}
        </p>
      )}
      {reading?.extra?.map(({ start, end }) => (
        <p key={start} className="refusal" role="note">
          From {start.toFixed(2)} to {end.toFixed(2)} s there is speech that the text lacks.
        </p>
      ))}
      <SaidWords room={room} />
      <ReadingBar room={room} hands={hands} />
    </div>
  );
}

/** How a word is said: its phones, seen and changed; how well they fit is told beside them. */
function SaidWords({ room }: { readonly room: VoiceRoomParts }) {
  const { sheet, line, onEdit } = room;
  const words = sheet.reading?.words ?? [];
  if (!words.length) return null;
  const seen = new Set<string>();
  const shown = words.filter(({ word }) => {
    const key = word.toLowerCase();
    return !seen.has(key) && seen.add(key);
  });
  const save = (word: string, standing: string) => (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const phones = String(new FormData(event.currentTarget).get('phones') ?? '').trim();
    if (phones !== standing) onEdit({ kind: 'say_word', word: plain(word), phones });
  };
  return (
    <details className="said-words">
      <summary>How its words are said</summary>
      <ul>
        {shown.map((word) => {
          const own = sheet.said[plain(word.word).toLowerCase()];
          const heard = (word.phones ?? []).map(({ phone }) => written(phone)).join(' ');
          const standing = own ? written(own) : heard;
          return (
            <li key={word.word}>
              <form onSubmit={save(word.word, standing)}>
                <b>{word.word}</b>
                <input
                  className="form-control number"
                  name="phones"
                  aria-label={`How ${word.word} is said`}
                  key={standing}
                  defaultValue={standing}
                  disabled={!line.may_change}
                />
                <span
                  className="number quiet"
                  title="How well it fits the sound: 100 % as words that were meant do"
                >
                  {word.fits === false
                    ? 'not heard'
                    : `${Math.round(100 * (word.confidence ?? 1))} %`}
                </span>
              </form>
            </li>
          );
        })}
      </ul>
    </details>
  );
}

/** A word without the signs round it. */
const plain = (word: string): string => word.replace(/^[^\p{L}\p{N}]+|[^\p{L}\p{N}]+$/gu, '');
