/** Keys of the prints’ room. */

import { type Group, labelled, of } from '../../app/shortcuts';

export type PrintsAction =
  | 'play'
  | 'back'
  | 'forward'
  | 'first'
  | 'last'
  | 'newer'
  | 'older'
  | 'lay'
  | 'keys'
  | 'throwAway';

export const PRINTS_KEYS: readonly Group<PrintsAction>[] = [
  {
    name: 'Look',
    shortcuts: [
      of('play', 'Space', 'Play or pause'),
      of('back', 'Left', 'A frame back'),
      of('forward', 'Right', 'A frame on'),
      of('first', 'Home', 'First frame'),
      of('last', 'End', 'Last frame'),
    ],
  },
  {
    name: 'The line',
    shortcuts: [
      of('newer', 'PageUp', 'The newer print'),
      of('older', 'PageDown', 'The older print'),
      of('lay', 'U', 'Lay the older one under it, or lift it again'),
      of('throwAway', 'Delete', 'Throw it away; pressed again, for good'),
      of('keys', '?', 'These keys'),
    ],
  },
];

export const withPrintsKey = labelled(PRINTS_KEYS);
