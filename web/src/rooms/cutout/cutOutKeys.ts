/** Every key of the cut-out’s room, once. */

import { DOCUMENT_KEYS, type Group, labelled, of } from '../../app/shortcuts';

export type CutOutAction =
  | 'play'
  | 'rest'
  | 'partBefore'
  | 'partAfter'
  | 'front'
  | 'back'
  | 'takeOut'
  | 'pivotLeft'
  | 'pivotRight'
  | 'pivotUp'
  | 'pivotDown'
  | 'make'
  | 'letGo'
  | 'undo'
  | 'redo'
  | 'history'
  | 'keys';

export const CUT_OUT_KEYS: readonly Group<CutOutAction>[] = [
  {
    name: 'The paper',
    shortcuts: [
      of('play', 'Space', 'Try the joints, or stop'),
      of('rest', 'Home', 'Back to rest'),
      of('pivotLeft', 'Alt+Left', 'The chosen pivot a little to the left'),
      of('pivotRight', 'Alt+Right', 'A little to the right'),
      of('pivotUp', 'Alt+Up', 'A little up'),
      of('pivotDown', 'Alt+Down', 'A little down'),
    ],
  },
  {
    name: 'Parts',
    shortcuts: [
      of('partBefore', 'Up', 'The part in front of the chosen one'),
      of('partAfter', 'Down', 'The part behind it'),
      of('front', 'PageUp', 'One nearer to the front'),
      of('back', 'PageDown', 'One nearer to the back'),
      of('takeOut', 'Delete Backspace', 'Take the part out'),
    ],
  },
  {
    name: 'The room',
    shortcuts: [
      of('make', 'Ctrl+Enter', 'Make the figure'),
      of('letGo', 'Esc', 'Choose no part'),
      ...DOCUMENT_KEYS,
    ],
  },
];

export const CUT_OUT_BY_HAND: readonly (readonly [string, string])[] = [
  ['Draw a brad', 'moves where its part turns'],
  ['Press a brad', 'chooses its part'],
  ['Draw the small square of the chosen part', 'moves where it ends'],
];

export const withCutOutKey = labelled(CUT_OUT_KEYS);
