import { useEffect, useMemo, useRef } from 'react';
import { Listeners } from '../../app/store';
import { heldAt } from '../../player/heldAt';
import { Stage } from '../../stage/Stage';
import type { StageScene, StageView } from '../../stage/scene';
import { FIRST_FRAME } from './firstFrame';
import type { VoiceRoomParts } from './room';

import { useFigureAtRest, usePlacing } from './usePlacing';

/** A head reaches so far over its joint: what is looked at is its middle. */
const FACE_OVER_JOINT = 0.045;
const SIDE_YAW = 62;

/** The figure whose mouth it is, close up; the mouth goes with the playhead. */
export function Face({ room }: { readonly room: VoiceRoomParts }) {
  const { otherSides, sheet, player, memory, change } = room;
  const { chart, eyesChart, hand } = usePlacing(room);
  const figure = chart?.chart.figure || null;
  const { dressed, pose } = useFigureAtRest(figure);
  const joint = chart?.chart.place?.joint;
  // A beak is looked at from its side.
  const round = chart?.chart.view === 'side' ? SIDE_YAW : 0;
  const scene = useMemo((): StageScene => {
    const charts = [chart, ...otherSides].flatMap((one) =>
      one ? [{ chart: one.chart, reachDegrees: one.reach_degrees, pictures: one.pictures }] : [],
    );
    const eyes = eyesChart
      ? [
          {
            chart: eyesChart.chart,
            reachDegrees: eyesChart.reach_degrees,
            pictures: eyesChart.pictures,
          },
        ]
      : [];
    const parts = [
      { part: 'mouth', charts },
      { part: 'eyes', charts: eyes },
    ];
    return {
      figures: dressed
        ? [
            {
              id: 'face',
              name: dressed.figure.name,
              costume: dressed,
              mark: [0, 0, 0],
              plants: [],
              starts: [],
              drawn: parts,
            },
          ]
        : [],
      pose: () => pose,
      drawing: (_figure, part, frame) =>
        heldAt(part === 'eyes' ? sheet.eyes : sheet.run, frame)?.drawing ?? 0,
      length: sheet.frames,
      firstFrame: FIRST_FRAME,
      backdrop: 'paper',
    };
  }, [chart, otherSides, eyesChart, dressed, pose, sheet.run, sheet.eyes, sheet.frames]);
  const view = useMemo((): StageView => {
    const place = dressed?.figure.joints.findIndex((one) => one.name === joint) ?? -1;
    const at = pose && place >= 0 ? pose.positions.subarray(place * 3, place * 3 + 3) : [0, 1.5, 0];
    return {
      orbit: { ...memory.orbit, yaw: memory.orbit.yaw + round },
      ghosts: { shown: false, count: 1, step: 1, inLoop: false },
      follow: false,
      target: [at[0], at[1] + FACE_OVER_JOINT, at[2]],
      watched: null,
      arcs: { shown: false, joints: [] },
      prints: false,
      planInset: false,
      plain: true,
      counts: false,
    };
  }, [memory.orbit, dressed, pose, joint, round]);
  return (
    <section className="voice-face" aria-label="Face">
      <FaceTag room={room} />
      {figure ? (
        <Stage
          scene={scene}
          view={view}
          player={player}
          frames={NO_FRAMES}
          mayChange={false}
          onOrbit={(orbit) => change({ orbit: { ...orbit, yaw: orbit.yaw - round } })}
          onShift={() => {}}
          onPick={() => {}}
          {...(hand && { hand })}
        />
      ) : (
        <LargeMouth room={room} />
      )}
    </section>
  );
}

const NO_FRAMES = { onFrames: new Listeners().add };

/** The mouth alone, where its chart is no figure's. */
function LargeMouth({ room }: { readonly room: VoiceRoomParts }) {
  const { player, sheet, pictures } = room;
  const image = useRef<HTMLImageElement>(null);
  useEffect(() => {
    const show = (frame: number) => {
      const key = heldAt(sheet.run, frame)?.mouth ?? '';
      const ink = pictures.get(key)?.ink ?? '';
      if (image.current && image.current.getAttribute('src') !== ink) image.current.src = ink;
    };
    show(player.frame);
    return player.onFrame(show);
  }, [player, sheet.run, pictures]);
  return <img ref={image} className="large-mouth" alt="The mouth that shows" />;
}

/** Which mouth shows: its name, its number, and for how long it is held. */
function FaceTag({ room }: { readonly room: VoiceRoomParts }) {
  const { player, sheet } = room;
  const name = useRef<HTMLElement>(null);
  const rest = useRef<HTMLElement>(null);
  useEffect(() => {
    const names = new Map(sheet.mouths.map((mouth) => [mouth.key, mouth.name]));
    const show = (frame: number) => {
      const here = heldAt(sheet.run, frame);
      if (!name.current || !rest.current || !here) return;
      name.current.textContent = names.get(here.mouth) ?? here.mouth;
      rest.current.textContent = `drawing ${here.drawing}, held ${here.length} fr, ${here.reason}`;
    };
    show(player.frame);
    return player.onFrame(show);
  }, [player, sheet]);
  return (
    <p className="face-tag" data-testid="mouth">
      <b ref={name} />
      <small ref={rest} />
    </p>
  );
}
