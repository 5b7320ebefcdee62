/** Keys of a room: one table of what is listed on “?”, named in tooltips, and listened for. */

import { useEffect, useRef } from 'react';

export type Action =
  | 'play'
  | 'playBackwards'
  | 'back'
  | 'forward'
  | 'backTen'
  | 'forwardTen'
  | 'first'
  | 'last'
  | 'cutBefore'
  | 'cutAfter'
  | 'beatBefore'
  | 'beatAfter'
  | 'stepBefore'
  | 'stepAfter'
  | 'slower'
  | 'faster'
  | 'mode'
  | 'loop'
  | 'loopChosen'
  | 'whole'
  | 'nearer'
  | 'farther'
  | 'threeQuarter'
  | 'side'
  | 'front'
  | 'plan'
  | 'throughCamera'
  | 'frameFigure'
  | 'follow'
  | 'aboutFoot'
  | 'ghosts'
  | 'arcs'
  | 'prints'
  | 'planInset'
  | 'counts'
  | 'all'
  | 'fromPlayhead'
  | 'under'
  | 'letGo'
  | 'undo'
  | 'redo'
  | 'place'
  | 'split'
  | 'duplicate'
  | 'copy'
  | 'cut'
  | 'paste'
  | 'remove'
  | 'rename'
  | 'earlier'
  | 'later'
  | 'endEarlier'
  | 'endLater'
  | 'startEarlier'
  | 'startLater'
  | 'slipBack'
  | 'slipOn'
  | 'laneAbove'
  | 'laneBelow'
  | 'nail'
  | 'recolour'
  | 'beat'
  | 'snap'
  | 'ripple'
  | 'addLane'
  | 'mute'
  | 'solo'
  | 'lock'
  | 'fold'
  | 'gapRule'
  | 'strands'
  | 'sceneStrands'
  | 'sound'
  | 'print'
  | 'printAgain'
  | 'slow'
  | 'straighten'
  | 'history'
  | 'keys';

export interface Shortcut<A extends string> {
  readonly action: A;
  readonly keys: readonly string[];
  readonly does: string;
}

export interface Group<A extends string> {
  readonly name: string;
  readonly shortcuts: readonly Shortcut<A>[];
}

export const of = <A extends string>(action: A, keys: string, does: string): Shortcut<A> => ({
  action,
  keys: keys.split(' '),
  does,
});

/** What every room of a document has. */
export const DOCUMENT_KEYS: readonly Shortcut<'undo' | 'redo' | 'history' | 'keys'>[] = [
  of('undo', 'Ctrl+Z', 'Undo'),
  of('redo', 'Ctrl+Shift+Z Ctrl+Y', 'Redo'),
  of('history', 'H', 'History'),
  of('keys', '?', 'These keys'),
];

export const SHORTCUTS: readonly Group<Action>[] = [
  {
    name: 'Play and jump',
    shortcuts: [
      of('play', 'Space', 'Play, pause'),
      of('playBackwards', 'Shift+Space', 'Play backwards, pause'),
      of('back', 'Left', 'One frame back'),
      of('forward', 'Right', 'One frame on'),
      of('backTen', 'Shift+Left', 'Ten frames back'),
      of('forwardTen', 'Shift+Right', 'Ten frames on'),
      of('first', 'Home', 'First frame'),
      of('last', 'End', 'Last frame'),
      of('cutBefore', 'PageUp', 'The cut before'),
      of('cutAfter', 'PageDown', 'The next cut'),
      of('beatBefore', 'Shift+PageUp', 'The beat before'),
      of('beatAfter', 'Shift+PageDown', 'The next beat'),
      of('stepBefore', ';', 'The foot contact before'),
      of('stepAfter', "'", 'The next foot contact'),
      of('slower', '-', 'Slower'),
      of('faster', '=', 'Faster'),
      of('mode', 'E', 'Every frame, or real time'),
      of('loop', 'L', 'Loop or stop at the end'),
      of('loopChosen', 'Shift+L', 'Loop what is chosen, or the whole scene again'),
    ],
  },
  {
    name: 'See',
    shortcuts: [
      of('whole', 'W', 'The whole scene, and back to the part you saw'),
      of('nearer', 'Up', 'The time nearer'),
      of('farther', 'Down', 'The time farther'),
      of('threeQuarter', '1', 'Three-quarter view'),
      of('side', '2', 'Side view'),
      of('front', '3', 'Front view'),
      of('plan', '4', 'Plan view'),
      of('throughCamera', '5', 'Through the scene’s camera, and back'),
      of('frameFigure', 'C', 'Bring the figure to the middle'),
      of('follow', 'V', 'Follow the figure'),
      of('aboutFoot', 'Shift+V', 'Look about the planted foot'),
      of('ghosts', 'G', 'Ghosts'),
      of('arcs', 'T', 'Arcs of clicked joints'),
      of('prints', 'N', 'Foot plants as prints'),
      of('planInset', 'P', 'The plan inset'),
      of('strands', 'Z', 'The strands of the chosen stint'),
      of('sceneStrands', 'Shift+Z', 'The strands of the whole scene'),
      of('counts', 'Q', 'Count painted and dropped frames'),
    ],
  },
  {
    name: 'Choose',
    shortcuts: [
      of('all', 'Ctrl+A', 'Every stint'),
      of('fromPlayhead', 'A', 'Every stint from the playhead on'),
      of('under', 'U', 'What lies under the chosen beat, or under the playhead'),
      of('letGo', 'Esc', 'Nothing'),
    ],
  },
  {
    name: 'Change',
    shortcuts: [
      of('undo', 'Ctrl+Z', 'Undo'),
      of('redo', 'Ctrl+Shift+Z Ctrl+Y', 'Redo'),
      of('place', 'Enter', 'On a clip of the drawer: lay it at the playhead'),
      of('earlier', 'Alt+Left', 'Move a frame earlier'),
      of('later', 'Alt+Right', 'Move a frame later'),
      of('endEarlier', 'Alt+Shift+Left', 'Trim the end, a frame shorter'),
      of('endLater', 'Alt+Shift+Right', 'Trim the end, a frame longer'),
      of('startEarlier', 'Ctrl+Alt+Left', 'Trim the start, a frame longer'),
      of('startLater', 'Ctrl+Alt+Right', 'Trim the start, a frame shorter'),
      of('slipBack', 'Alt+PageUp', 'Slip: an earlier part of the clip in the same place'),
      of('slipOn', 'Alt+PageDown', 'Slip: a later part of the clip in the same place'),
      of('laneAbove', 'Alt+Up', 'To the lane above (on a lane’s head: move the lane)'),
      of('laneBelow', 'Alt+Down', 'To the lane below (on a lane’s head: move the lane)'),
      of('split', '/', 'Split at the playhead'),
      of('duplicate', 'D', 'Duplicate'),
      of('copy', 'Ctrl+C', 'Copy'),
      of('cut', 'Ctrl+X', 'Cut'),
      of('paste', 'Ctrl+V', 'Paste at the playhead, also into another scene'),
      of('remove', 'Delete Backspace', 'Delete'),
      of('rename', 'F2', 'Rename'),
      of('recolour', 'J', 'The next colour'),
      of('nail', 'I', 'Nail down where it stands, or chain it again'),
      of('slow', 'Y', 'Slow or hurry what is chosen, or the range that loops'),
      of('straighten', 'Shift+Y', 'Straighten the chosen stint, or the scene'),
      of(
        'beat',
        'B',
        'A beat over what is chosen, or at the playhead; while it plays B again ends it',
      ),
      of('snap', 'S', 'Snap on or off; Alt lets go while drawing'),
      of('ripple', 'R', 'Ripple on or off'),
    ],
  },
  {
    name: 'Lanes',
    shortcuts: [
      of('addLane', 'Shift+N', 'Another lane over the chosen one’s'),
      of('mute', 'M', 'Mute'),
      of('sound', 'Shift+M', 'Sound on or off'),
      of('solo', 'O', 'Solo'),
      of('lock', 'K', 'Lock'),
      of('fold', 'F', 'Fold'),
      of('gapRule', 'X', 'Rest, hold, or wait in its gaps'),
    ],
  },
  {
    name: 'The room',
    shortcuts: [
      of('print', 'Ctrl+P', 'Print it: a film with its sound, or pictures'),
      of('printAgain', 'Shift+P', 'The same print again, of what stands now'),
      of('history', 'H', 'History'),
      of('keys', '?', 'These keys'),
    ],
  },
];

/** What the hand does that has no key of its own. */
export const BY_HAND: readonly (readonly [string, string])[] = [
  ['Draw a clip down to the desk', 'places it'],
  ['Draw a clip to a stint’s end', 'lays it where both join best'],
  ['Shift and Enter on a clip', 'lays it next to the chosen stint'],
  ['Draw a stint’s middle, start, end', 'moves it, trims its start, its end'],
  ['Draw a joint sideways', 'moves the cut; both clips keep their poses'],
  ['Draw over the empty desk', 'chooses what the box touches'],
  ['Shift and press a stint', 'adds it to the chosen ones, or takes it away'],
  ['Shift and draw along the ruler', 'sets the range that loops'],
  ['Press a strand; draw its upper, its lower end', 'pins it; moves when it plays, what plays'],
  ['Draw the pace up or down', 'plays a stretch faster or slower'],
  ['Press a gap twice', 'rests, holds, waits'],
  ['Drop a sound file on the desk', 'brings it in and lays it there'],
  ['Draw a sound; with Alt', 'moves it by frames; to the sample'],
  ['Wheel with Ctrl, with Shift', 'zooms, pans the time'],
  ['Draw on the stage', 'looks round; with Shift shifts the view; the wheel moves nearer'],
  ['Press a joint on the stage', 'draws its arc'],
  ['In Plan: draw a mark, its arrow', 'moves the figure’s start, turns it'],
  ['In Plan: draw a join’s red figure, its arrow', 'sets the clip down, turns it'],
];

const NAMES: Readonly<Record<string, string>> = {
  ' ': 'Space',
  ArrowLeft: 'Left',
  ArrowRight: 'Right',
  ArrowUp: 'Up',
  ArrowDown: 'Down',
  Escape: 'Esc',
};

/** A table by its keys. */
const byKey = <A extends string>(groups: readonly Group<A>[]): ReadonlyMap<string, A> =>
  new Map(
    groups.flatMap((group) =>
      group.shortcuts.flatMap(({ keys, action }) => keys.map((key) => [key, action] as const)),
    ),
  );

type Press = Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'>;

/** A press as it is written in the table: “Ctrl+Shift+Z”. Shift is part of a sign, not beside it. */
export function written(event: Press): string {
  const letter = /^[a-z]$/i.test(event.key);
  const key = NAMES[event.key] ?? (letter ? event.key.toUpperCase() : event.key);
  const sign = event.key.length === 1 && !letter && event.key !== ' ';
  return [
    event.ctrlKey || event.metaKey ? 'Ctrl+' : '',
    event.altKey ? 'Alt+' : '',
    event.shiftKey && !sign ? 'Shift+' : '',
    key,
  ].join('');
}

/** A label with its key in a room's table: “Undo (Ctrl+Z)”. */
export function labelled<A extends string>(
  groups: readonly Group<A>[],
): (label: string, action: A) => string {
  const shortcuts = groups.flatMap((group) => group.shortcuts);
  return (label, action) => {
    const found = shortcuts.find((shortcut) => shortcut.action === action);
    return found ? `${label} (${found.keys[0]})` : label;
  };
}

/** The same for the scene room. */
export const withKey = labelled(SHORTCUTS);

type Actions<A extends string> = Readonly<Partial<Record<A, () => void>>>;

/** Listen for a table's keys. They never fire while something is written or a dialog is open. */
export function useShortcuts<A extends string>(
  groups: readonly Group<A>[],
  actions: Actions<A>,
): void {
  const latest = useRef(actions);
  latest.current = actions;
  useEffect(() => {
    const keys = byKey(groups);
    const press = (event: KeyboardEvent) => {
      if (event.defaultPrevented || isWriting(event.target)) return;
      if (isSliding(event)) return;
      if (document.querySelector('.modal.show, .dropdown-menu.show')) return;
      const action = keys.get(written(event));
      if (!action) return;
      // On a button the space bar presses the button.
      if (event.key === ' ' && event.target instanceof HTMLButtonElement) return;
      const run = latest.current[action];
      if (!run) return;
      event.preventDefault();
      run();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [groups]);
}

/** On a slider its own keys move it. */
const isSliding = ({ target, key }: KeyboardEvent): boolean =>
  target instanceof HTMLInputElement &&
  target.type === 'range' &&
  /^(Arrow|Page|Home|End)/.test(key);

export function isWriting(target: EventTarget | null): boolean {
  return (
    (target instanceof HTMLInputElement && !['checkbox', 'range'].includes(target.type)) ||
    target instanceof HTMLTextAreaElement ||
    target instanceof HTMLSelectElement
  );
}
