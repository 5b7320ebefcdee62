/** Every key of the drawings room, once. */

import { DOCUMENT_KEYS, type Group, labelled, of } from '../../app/shortcuts';

export type DrawingsAction =
  | 'play'
  | 'back'
  | 'forward'
  | 'backTen'
  | 'forwardTen'
  | 'first'
  | 'last'
  | 'flipBack'
  | 'flipOn'
  | 'slower'
  | 'faster'
  | 'longer'
  | 'shorter'
  | 'takeOut'
  | 'pin'
  | 'unpin'
  | 'drawAnew'
  | 'light'
  | 'nudge'
  | 'mark'
  | 'nudgeLeft'
  | 'nudgeRight'
  | 'nudgeUp'
  | 'nudgeDown'
  | 'rowAbove'
  | 'rowBelow'
  | 'nearer'
  | 'farther'
  | 'letGo'
  | 'undo'
  | 'redo'
  | 'history'
  | 'keys'
  | `write${Digit}`;

type Digit = 0 | 1 | 2 | 3 | 4 | 5 | 6 | 7 | 8 | 9;
export const DIGITS: readonly Digit[] = [1, 2, 3, 4, 5, 6, 7, 8, 9, 0];

export const DRAWINGS_KEYS: readonly Group<DrawingsAction>[] = [
  {
    name: 'Play and flip',
    shortcuts: [
      of('play', 'Space', 'Play or pause'),
      of('flipBack', 'PageUp', 'Turn to the drawing before; held, keeps turning'),
      of('flipOn', 'PageDown', 'Turn to the next drawing; held, keeps turning'),
      of('back', 'Left', 'One frame back'),
      of('forward', 'Right', 'One frame on'),
      of('backTen', 'Shift+Left', 'Ten frames back'),
      of('forwardTen', 'Shift+Right', 'Ten frames on'),
      of('first', 'Home', 'First frame'),
      of('last', 'End', 'Last frame'),
      of('slower', '-', 'Slower'),
      of('faster', '=', 'Faster'),
    ],
  },
  {
    name: 'Expose',
    shortcuts: [
      ...DIGITS.map((digit) =>
        of(`write${digit}`, String(digit), `Write a drawing’s number on this frame: ${digit}`),
      ),
      of('longer', 'Alt+Shift+Down', 'Hold this exposure a frame longer'),
      of('shorter', 'Alt+Shift+Up', 'Hold this exposure a frame shorter'),
      of('takeOut', 'Delete Backspace', 'Take this exposure out of the order'),
      of('pin', 'P', 'Pin the drawing that shows to this frame'),
      of('unpin', 'Shift+P', 'Take the pin here away'),
      of('drawAnew', 'S', 'Boil by another seed'),
    ],
  },
  {
    name: 'The light table',
    shortcuts: [
      of('light', 'L', 'The light: neighbours show through, or not'),
      of('nudge', 'N', 'The hand nudges drawings on their pegs, or looks'),
      of('mark', 'M', 'The hand marks the followed point, or looks'),
      of('nudgeLeft', 'Alt+Left', 'The drawing a pixel to the left'),
      of('nudgeRight', 'Alt+Right', 'A pixel to the right'),
      of('nudgeUp', 'Alt+Up', 'A pixel up'),
      of('nudgeDown', 'Alt+Down', 'A pixel down'),
    ],
  },
  {
    name: 'The room',
    shortcuts: [
      of('rowAbove', 'Up', 'The row above'),
      of('rowBelow', 'Down', 'The row below'),
      of('nearer', 'Z', 'The time nearer'),
      of('farther', 'Shift+Z', 'The time farther'),
      of('letGo', 'Esc', 'Back to what the run shows'),
      ...DOCUMENT_KEYS,
    ],
  },
];

export const DRAWINGS_BY_HAND: readonly (readonly [string, string])[] = [
  ['Draw the end of a drawing in the order', 'holds it longer or shorter'],
  ['Draw a drawing in the order', 'moves it to another place'],
  ['Draw what is played', 'pins its drawing to where you let go'],
  ['Press a sheet of the set', 'looks at it by itself; with Ctrl lays it on the table too'],
  ['Draw on the table', 'nudges the drawing, or marks its point, as the hand is set'],
  ['Drop pictures on the set', 'adds them to it, or replaces those of their numbers'],
  ['Wheel with Ctrl, with Shift', 'zooms, pans the time'],
];

export const withDrawingsKey = labelled(DRAWINGS_KEYS);
