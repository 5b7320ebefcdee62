/** Every key of the bench, once. */

import { type Group, labelled, of } from '../../app/shortcuts';

export type BenchAction =
  | 'play'
  | 'playBackwards'
  | 'back'
  | 'forward'
  | 'first'
  | 'last'
  | 'keyBefore'
  | 'keyAfter'
  | 'poseBefore'
  | 'poseAfter'
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
  | 'ghostKind'
  | 'spread'
  | 'arcs'
  | 'joints'
  | 'inPlace'
  | 'counts'
  | 'jointAbove'
  | 'jointBelow'
  | 'otherSide'
  | 'allJoints'
  | 'keysHere'
  | 'keysOn'
  | 'letGo'
  | 'markBeat'
  | 'under'
  | 'undo'
  | 'redo'
  | 'key'
  | 'keyAll'
  | 'record'
  | 'bothSides'
  | 'turnLeft'
  | 'turnRight'
  | 'turnUp'
  | 'turnDown'
  | 'drawLeft'
  | 'drawRight'
  | 'drawUp'
  | 'drawDown'
  | 'rest'
  | 'insert'
  | 'snap'
  | 'earlier'
  | 'later'
  | 'rippleEarlier'
  | 'rippleLater'
  | 'narrower'
  | 'wider'
  | 'raise'
  | 'lower'
  | 'reverse'
  | 'duplicate'
  | 'copy'
  | 'cut'
  | 'paste'
  | 'pasteMirrored'
  | 'remove'
  | 'hold'
  | 'even'
  | 'ease'
  | 'free'
  | 'favour'
  | 'favourAgain'
  | 'startHere'
  | 'link'
  | 'namePose'
  | 'frameKeys'
  | 'tracing'
  | 'taller'
  | 'lowerDesk'
  | 'history'
  | 'print'
  | 'keys';

export const BENCH_KEYS: readonly Group<BenchAction>[] = [
  {
    name: 'Play and flip',
    shortcuts: [
      of('play', 'Space', 'Play, pause'),
      of('playBackwards', 'Shift+Space', 'Play backwards, pause'),
      of('back', 'Left', 'One frame back; a cycle goes round'),
      of('forward', 'Right', 'One frame on'),
      of('keyBefore', 'PageUp', 'Flip to the key before'),
      of('keyAfter', 'PageDown', 'Flip to the next key'),
      of('poseBefore', 'Shift+PageUp', 'The named pose before'),
      of('poseAfter', 'Shift+PageDown', 'The next named pose'),
      of('first', 'Home', 'First frame'),
      of('last', 'End', 'Last frame'),
      of('slower', '-', 'Slower'),
      of('faster', '=', 'Faster'),
      of('mode', 'E', 'Every frame, or real time'),
      of('loop', 'L', 'Loop or stop at the end'),
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
      of('ghostKind', 'Shift+G', 'Ghosts of keys, or of frames'),
      of('spread', 'S', 'Ghosts side by side, or in place'),
      of('arcs', 'T', 'Arcs of the chosen joints'),
      of('joints', 'J', 'Joints on the figure'),
      of('taller', 'Alt+PageUp', 'A taller desk'),
      of('lowerDesk', 'Alt+PageDown', 'A lower desk'),
      of('tracing', 'Shift+T', 'The tracing picture'),
      of('frameKeys', 'V', 'Frame the chosen keys in the curves, or all again'),
      of('inPlace', 'I', 'Walk in place, or over the ground'),
      of('counts', 'Q', 'Count painted and dropped frames'),
    ],
  },
  {
    name: 'Choose',
    shortcuts: [
      of('jointAbove', 'Up', 'The joint above'),
      of('jointBelow', 'Down', 'The joint below'),
      of('otherSide', 'O', 'The same joint of the other side'),
      of('allJoints', 'Ctrl+A', 'The whole figure'),
      of('keysHere', 'U', 'Keys under the playhead, of the chosen joints or of all'),
      of('keysOn', 'A', 'Keys from the playhead on'),
      of('under', 'Shift+P', 'The keys under the beat, of the chosen joints or of all'),
      of('letGo', 'Esc', 'Drop a loose pose; let go of keys, then of joints'),
    ],
  },
  {
    name: 'Pose',
    shortcuts: [
      of('key', 'K', 'Key what is chosen, or the whole figure'),
      of('keyAll', 'Shift+K', 'Key the whole figure'),
      of('record', 'R', 'Record: key every change'),
      of('bothSides', 'B', 'The other side is posed along, mirrored'),
      of('turnLeft', 'Ctrl+Left', 'Turn the joint 2° as the view sees it, leftwards'),
      of('turnRight', 'Ctrl+Right', 'Turn it 2° rightwards'),
      of('turnUp', 'Ctrl+Up', 'Turn it 2° about the view’s level axis'),
      of('turnDown', 'Ctrl+Down', 'Turn it 2° the other way about'),
      of('drawLeft', 'Ctrl+Shift+Left', 'Draw a hand, a foot or the root 1 cm leftwards'),
      of('drawRight', 'Ctrl+Shift+Right', 'Draw it 1 cm rightwards'),
      of('drawUp', 'Ctrl+Shift+Up', 'Draw it 1 cm up'),
      of('drawDown', 'Ctrl+Shift+Down', 'Draw it 1 cm down'),
      of('rest', '0', 'Lay the joint back in its rest'),
      of('favour', 'F', 'To the favour slider'),
      of('favourAgain', 'Shift+F', 'Favour again, with the same share'),
      of('undo', 'Ctrl+Z', 'Undo'),
      of('redo', 'Ctrl+Shift+Z Ctrl+Y', 'Redo'),
    ],
  },
  {
    name: 'Keys',
    shortcuts: [
      of('insert', '/', 'Insert keys that change nothing'),
      of('earlier', 'Alt+Left', 'Move a frame earlier'),
      of('later', 'Alt+Right', 'Move a frame later'),
      of('rippleEarlier', 'Ctrl+Alt+Left', 'Move it and all that follows a frame earlier'),
      of('rippleLater', 'Ctrl+Alt+Right', 'Move it and all that follows a frame later'),
      of('narrower', 'Alt+Shift+Left', 'Draw together by a frame, about the first'),
      of('wider', 'Alt+Shift+Right', 'Draw apart by a frame, about the first'),
      of('raise', 'Alt+Up', 'Raise their values by 1°, 1 cm or 0.05 times'),
      of('lower', 'Alt+Down', 'Lower their values by 1°, 1 cm or 0.05 times'),
      of('snap', 'W', 'Keys land on whole frames, or anywhere'),
      of('reverse', 'Shift+B', 'Turn their order'),
      of('duplicate', 'D', 'Duplicate at the playhead'),
      of('copy', 'Ctrl+C', 'Copy'),
      of('cut', 'Ctrl+X', 'Cut'),
      of('paste', 'Ctrl+V', 'Paste at the playhead, also into another clip'),
      of('pasteMirrored', 'Ctrl+Shift+V', 'Paste mirrored'),
      of('remove', 'Delete Backspace', 'Delete'),
      of('hold', 'Shift+H', 'Hold'),
      of('even', 'Shift+E', 'Even'),
      of('ease', 'Shift+A', 'Eased'),
      of('free', 'Shift+S', 'Free: slopes by hand'),
    ],
  },
  {
    name: 'The cycle and the room',
    shortcuts: [
      of('startHere', 'M', 'Start the cycle on this frame'),
      of('link', 'Shift+L', 'Link the halves, or unlink them'),
      of('namePose', 'N', 'Name the pose of this frame'),
      of('markBeat', 'P', 'Mark a beat: over the chosen keys, the loop, or from the playhead'),
      of('history', 'H', 'History'),
      of('print', 'Ctrl+P', 'Print the clip: a film, or pictures'),
      of('keys', '?', 'These keys'),
    ],
  },
];

export const BENCH_BY_HAND: readonly (readonly [string, string])[] = [
  ['Press a joint', 'chooses it; with Shift adds it or takes it away'],
  ['Draw the ring round a joint', 'turns it in the plane of the view'],
  ['Draw the ring with X, Y or Z held', 'turns it about its own axis'],
  ['Draw a hand or a foot', 'arm or leg follows; elbow and knee never flip'],
  ['Draw the root', 'moves the figure'],
  ['Draw ticks on the key sheet', 'moves the chosen keys; with Alt draws them apart'],
  ['Draw over the empty sheet', 'chooses the keys that the box touches'],
  ['Wheel over the sheet', 'scrolls; with Ctrl zooms, with Shift pans the time'],
  ['Wheel over the curves', 'with Ctrl zooms, with Shift pans the time'],
  ['Draw a key of a curve, its slope', 'sets its frame and value, its slope'],
  ['Draw the hand of the dial', 'scrubs; a bead of its rings moves those keys'],
  ['Draw a contact of the dial', 'moves it; one of its ends makes it longer or shorter'],
  ['Draw the rim of the dial', 'turns it: another frame is the first'],
  ['Drop PNG or JPEG pictures on the stage', 'lays them under it, to be traced'],
  ['Draw the upper edge of the desk', 'makes it taller or lower'],
  ['Draw on the stage', 'looks round; with Shift shifts the view; the wheel moves nearer'],
];

export const withBenchKey = labelled(BENCH_KEYS);
