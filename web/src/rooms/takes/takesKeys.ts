/** Every key of the takes room, once. */

import { DOCUMENT_KEYS, type Group, labelled, of } from '../../app/shortcuts';

export type TakesAction =
  | 'play'
  | 'playBackwards'
  | 'back'
  | 'forward'
  | 'backTen'
  | 'forwardTen'
  | 'first'
  | 'last'
  | 'slower'
  | 'faster'
  | 'mode'
  | 'loop'
  | 'threeQuarter'
  | 'side'
  | 'front'
  | 'plan'
  | 'frameFigure'
  | 'ghosts'
  | 'arcs'
  | 'prints'
  | 'flip'
  | 'beside'
  | 'worst'
  | 'spikeBefore'
  | 'spikeAfter'
  | 'refuse'
  | 'jointAbove'
  | 'jointBelow'
  | 'leftDown'
  | 'rightDown'
  | 'pin'
  | 'keyHere'
  | 'trimStart'
  | 'trimEnd'
  | 'markBeat'
  | 'cutUp'
  | 'findCycle'
  | 'toBench'
  | 'keep'
  | 'strands'
  | 'circle'
  | 'record'
  | 'undo'
  | 'redo'
  | 'taller'
  | 'lowerDesk'
  | 'history'
  | 'print'
  | 'keys';

export const TAKES_KEYS: readonly Group<TakesAction>[] = [
  {
    name: 'Play',
    shortcuts: [
      of('play', 'Space', 'Play or pause'),
      of('playBackwards', 'Shift+Space', 'Play backwards'),
      of('back', 'Left', 'One frame back'),
      of('forward', 'Right', 'One frame on'),
      of('backTen', 'Shift+Left', 'Ten frames back'),
      of('forwardTen', 'Shift+Right', 'Ten frames on'),
      of('first', 'Home', 'First frame'),
      of('last', 'End', 'Last frame'),
      of('slower', '-', 'Slower'),
      of('faster', '=', 'Faster'),
      of('mode', 'E', 'Every frame, or real time'),
      of('loop', 'L', 'Loop or stop at the end'),
    ],
  },
  {
    name: 'Compare',
    shortcuts: [
      of('flip', 'F', 'Flip between as captured and cleaned'),
      of('beside', 'Shift+F', 'Side by side, or one under the other'),
      of('worst', 'W', 'To the frame and joint that changed most'),
      of('spikeAfter', 'PageDown', 'The next spike'),
      of('spikeBefore', 'PageUp', 'The spike before'),
      of('refuse', 'X', 'Refuse the spike here, or mend it after all'),
      of('jointAbove', 'Up', 'The curves of the joint above'),
      of('jointBelow', 'Down', 'The curves of the joint below'),
    ],
  },
  {
    name: 'See',
    shortcuts: [
      of('threeQuarter', '1', 'Three-quarter view'),
      of('side', '2', 'Side view'),
      of('front', '3', 'Front view'),
      of('plan', '4', 'Plan view'),
      of('frameFigure', 'C', 'Bring the figure to the middle'),
      of('ghosts', 'G', 'Ghosts'),
      of('arcs', 'T', 'Arcs of the chosen joints'),
      of('prints', 'J', 'Plants on the ground'),
      of('strands', 'S', 'The strands of its conforming'),
      of('taller', 'Alt+PageUp', 'A taller desk'),
      of('lowerDesk', 'Alt+PageDown', 'A lower desk'),
    ],
  },
  {
    name: 'The take',
    shortcuts: [
      of('trimStart', '[', 'The take is used from here'),
      of('trimEnd', ']', 'It is used up to here'),
      of('pin', 'I', 'Pin the source frame that plays here'),
      of('keyHere', 'K', 'Always key this frame, or no longer'),
      of('leftDown', 'N', 'The left foot on the ground here, or off it'),
      of('rightDown', 'M', 'The right foot on the ground here, or off it'),
      of('markBeat', 'P', 'Mark a beat: over the loop, or from the playhead'),
      of('cutUp', 'Shift+P', 'Every beat becomes a clip'),
      of('findCycle', 'Y', 'Find a cycle'),
      of('toBench', 'Enter', 'Take the ringed loop to the bench'),
      of('keep', 'Shift+K', 'Keep what came out as a clip'),
      of('circle', 'O', 'Circle the good one'),
      of('record', 'Shift+R', 'Record from the stage'),
      of('print', 'Ctrl+P', 'Print it, alone or beside what was captured'),
      ...DOCUMENT_KEYS,
    ],
  },
];

export const TAKES_BY_HAND: readonly (readonly [string, string])[] = [
  ['Draw the slider of Smooth or Thin', 'shows what it would give, and makes it when let go'],
  ['Press “worst” on a card', 'goes to the frame and joint where it did most'],
  ['Draw over a row of contacts', 'puts the foot on the ground; with Alt off it'],
  ['Press a ring on the map', 'plays that loop'],
  ['Draw a pin, or a thread, of the strands', 'another source frame plays there'],
  ['Press a joint on the figure', 'shows its curves and its arc'],
  ['Draw along the ruler with Shift', 'sets the range that loops'],
  ['Draw on the stage', 'looks round; with Shift shifts the view; the wheel moves nearer'],
];

export const withTakesKey = labelled(TAKES_KEYS);
