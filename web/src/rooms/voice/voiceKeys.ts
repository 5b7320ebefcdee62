/** Every key of the voice room, once. */

import { DOCUMENT_KEYS, type Group, labelled, of } from '../../app/shortcuts';

export type VoiceAction =
  | 'play'
  | 'back'
  | 'forward'
  | 'backTen'
  | 'forwardTen'
  | 'first'
  | 'last'
  | 'mouthBefore'
  | 'mouthAfter'
  | 'wordBefore'
  | 'wordAfter'
  | 'slower'
  | 'faster'
  | 'loopWord'
  | 'sound'
  | 'nearer'
  | 'farther'
  | 'rowAbove'
  | 'rowBelow'
  | 'rowsAbove'
  | 'rowsBelow'
  | 'allRows'
  | 'letGo'
  | 'longer'
  | 'shorter'
  | 'lift'
  | 'copy'
  | 'paste'
  | 'repeat'
  | 'turnRound'
  | 'fill'
  | 'writeWords'
  | 'note'
  | 'blink'
  | 'text'
  | 'read'
  | 'readBetween'
  | 'undo'
  | 'redo'
  | 'history'
  | 'keys'
  | `draw${Digit}`;

type Digit = 0 | 1 | 2 | 3 | 4 | 5 | 6 | 7 | 8 | 9;
export const DIGITS: readonly Digit[] = [1, 2, 3, 4, 5, 6, 7, 8, 9, 0];

export const VOICE_KEYS: readonly Group<VoiceAction>[] = [
  {
    name: 'Play',
    shortcuts: [
      of('play', 'Space', 'Play or pause'),
      of('back', 'Left', 'One frame back'),
      of('forward', 'Right', 'One frame on'),
      of('backTen', 'Shift+Left', 'Ten frames back'),
      of('forwardTen', 'Shift+Right', 'Ten frames on'),
      of('first', 'Home', 'First frame'),
      of('last', 'End', 'Last frame'),
      of('mouthBefore', 'PageUp', 'To the mouth before'),
      of('mouthAfter', 'PageDown', 'To the next mouth'),
      of('wordBefore', ',', 'To the word before'),
      of('wordAfter', '.', 'To the next word'),
      of('slower', '-', 'Slower, the pitch stays'),
      of('faster', '=', 'Faster'),
      of('loopWord', 'L', 'The word here round and round, or the whole line again'),
      of('sound', 'Shift+M', 'Hear it, or not'),
    ],
  },
  {
    name: 'Expose',
    shortcuts: [
      ...DIGITS.map((digit) =>
        of(`draw${digit}`, String(digit), `Drawing ${digit || 10} from here to the next one`),
      ),
      of('longer', 'Alt+Down', 'Hold it a frame longer'),
      of('shorter', 'Alt+Up', 'Hold it a frame shorter'),
      of('lift', 'Delete Backspace', 'Leave it to the rules again'),
      of('writeWords', 'W', 'Write words along the wave here, or change the one that is here'),
      of('note', 'N', 'Write a note on this frame'),
      of('blink', 'K', 'A blink on this frame, or none'),
    ],
  },
  {
    name: 'Rows of the sheet',
    shortcuts: [
      of('rowAbove', 'Up', 'The row above'),
      of('rowBelow', 'Down', 'The row below'),
      of('rowsAbove', 'Shift+Up', 'Choose rows upwards'),
      of('rowsBelow', 'Shift+Down', 'Choose rows downwards'),
      of('allRows', 'Ctrl+A', 'Choose all rows'),
      of('letGo', 'Esc', 'Choose none'),
      of('copy', 'Ctrl+C', 'Copy what shows on them'),
      of('paste', 'Ctrl+V', 'Paste it from this frame on'),
      of('repeat', 'R', 'Repeat it after them'),
      of('turnRound', 'B', 'Turn it round, the last first'),
      of('fill', 'F', 'Their drawings round and round, on the line’s ones or twos'),
    ],
  },
  {
    name: 'The room',
    shortcuts: [
      of('nearer', 'Z', 'The time nearer'),
      of('farther', 'Shift+Z', 'The time farther'),
      of('text', 'T', 'The text, or the rules for mouths'),
      of('read', 'Shift+R', 'Lay the text on the sound'),
      of('readBetween', 'Shift+P', 'Read again between the pins here'),
      ...DOCUMENT_KEYS,
    ],
  },
];

export const VOICE_BY_HAND: readonly (readonly [string, string])[] = [
  ['Press numbers while it plays', 'exposes mouths along the sound, as one step'],
  ['Draw where a phone or a word begins', 'moves it; what is drawn so stays in its place'],
  ['Draw over the row of words', 'writes words there; “/l ae m p/” after one says how'],
  ['Press a word', 'goes there; twice, loops it'],
  ['Press a mouth of the chart', 'exposes it on the current frame'],
  ['Draw on the face', 'looks at it from another side'],
  ['Draw over rows of the sheet', 'chooses them'],
  ['Wheel with Ctrl, with Shift', 'zooms, pans the time'],
];

export const withVoiceKey = labelled(VOICE_KEYS);
