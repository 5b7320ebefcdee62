/**
 * The page that prints: it paints any frame of what the press hands over, at any size, with the painter of the
 * stage and without its furniture. It asks for nothing but that, and changes nothing.
 */

import '@fontsource/spline-sans-mono/latin-500.css';
import '@fontsource/spline-sans/latin-500.css';
import { FrameStore } from '../player/frameStore';
import { LaidHead } from '../player/laidHead';
import { Player } from '../player/player';
import { VIEWS, type ViewName } from '../stage/camera';
import { makeCostume } from '../stage/costume';
import type { MouthPictures, SeenChart } from '../stage/mouth';
import { drawingsIn, drawnPartsOf, figuresOf, framesOf, layersOf, whenOn } from '../stage/ofDesk';
import { PictureStore } from '../stage/pictureStore';
import type { StageScene, StageView } from '../stage/scene';
import { EYE_HEIGHT, paintStage } from '../stage/stagePainter';
import { paintBurnt, paintMark } from './burn';
import {
  type NamedView,
  type Printed,
  type PrintLook,
  pictureUrl,
  readFrames,
  readPrinted,
} from './printed';

const NAMED: Readonly<Record<NamedView, ViewName>> = {
  'three-quarter': 'Three-quarter',
  side: 'Side',
  front: 'Front',
  plan: 'Plan',
};
const CONTENT = 'printed';
const PNG_START = 'data:image/png;base64,';

/** What the press drives. */
interface PrintPage {
  /** Paint a frame; it as a PNG picture, in base 64. */
  readonly paint: (frame: number) => Promise<string>;
}

declare global {
  interface Window {
    printPage: Promise<PrintPage>;
  }
}

function viewOf(look: PrintLook): StageView {
  const { view } = look;
  const orbit =
    view === 'stage'
      ? { yaw: look.yaw_degrees, pitch: look.pitch_degrees, distance: look.distance_metres }
      : VIEWS[NAMED[view === 'camera' ? 'three-quarter' : view]];
  return {
    orbit,
    follow: view === 'stage' ? look.follow : true,
    target: view === 'stage' ? [...look.target] : [0, EYE_HEIGHT, 0],
    watched: look.watched,
    ghosts: {
      shown: look.ghosts !== null,
      count: look.ghosts?.count ?? 0,
      step: look.ghosts?.step ?? 1,
      inLoop: false,
    },
    arcs: { shown: look.arcs.length > 0, joints: look.arcs },
    prints: look.prints,
    planInset: false,
    counts: false,
    plain: !look.numbers,
    grid: look.grid,
    isPrint: true,
    through: view === 'camera',
    transparent: look.transparent,
  };
}

async function picturesOf(files: readonly string[]): Promise<MouthPictures> {
  const pictures = new Map<string, HTMLImageElement>();
  for (const file of files) {
    const image = new Image();
    image.src = pictureUrl(file);
    await image.decode();
    pictures.set(file, image);
  }
  return pictures;
}

async function chartsOf(printed: Printed): Promise<ReadonlyMap<string, SeenChart>> {
  const charts = new Map<string, SeenChart>();
  for (const [id, { chart, reach_degrees: reachDegrees }] of Object.entries(printed.charts)) {
    const files = chart.mouths.flatMap(({ picture }) => picture?.file ?? []);
    charts.set(id, { chart, reachDegrees, pictures: await picturesOf([...new Set(files)]) });
  }
  return charts;
}

async function sceneOf(printed: Printed, frames: FrameStore, pictures: PictureStore) {
  const { desk } = printed;
  const charts = await chartsOf(printed);
  const costumes = desk.figures.map(({ figure }) => {
    const worn = printed.figures[figure];
    return worn && makeCostume(worn, pictures);
  });
  const sets = Object.entries(printed.sets);
  const head = new LaidHead(new Player(() => true), desk.laid);
  const scene: StageScene = {
    ...framesOf(desk, frames),
    figures: figuresOf(
      desk,
      costumes,
      drawnPartsOf(desk.lanes, (id) => charts.get(id)),
      whenOn((laid) => head.playedAt(laid)),
    ),
    layers: layersOf(
      desk.layers,
      new Map(sets.map(([id, sheet]) => [id, drawingsIn(sheet)])),
      pictures,
      frames,
    ),
  };
  return scene;
}

async function printPage(): Promise<PrintPage> {
  const printed = await readPrinted();
  const { look, desk, burnt } = printed;
  let trouble: unknown = null;
  const frames = new FrameStore(
    (problem) => {
      trouble = problem;
    },
    async () => {},
  );
  frames.show(CONTENT, desk.played_frames, readFrames);
  const pictures = new PictureStore(pictureUrl);
  const scene = await sceneOf(printed, frames, pictures);
  await Promise.all(
    ['500 12px "Spline Sans Mono"', '500 12px "Spline Sans"'].map((font) =>
      document.fonts.load(font),
    ),
  );
  const canvas = document.querySelector('canvas');
  const context = canvas?.getContext('2d', { alpha: look.transparent });
  if (!canvas || !context) throw new Error('This browser paints nothing.');
  canvas.width = look.width;
  canvas.height = look.height;
  const view = viewOf(look);
  const missed = new Set<number>();
  const watched: StageScene = {
    ...scene,
    pose: (figure, frame) => {
      if (frame >= 0 && frame < desk.played_frames && !frames.isReady(frame)) missed.add(frame);
      return scene.pose(figure, frame);
    },
  };

  /** Until a frame is here. */
  const come = async (frame: number): Promise<void> => {
    frames.lookAt(frame);
    while (!frames.isReady(frame)) {
      if (trouble) throw trouble;
      await new Promise<void>((done) => {
        const off = frames.onFrames(() => {
          off();
          done();
        });
      });
    }
  };

  /** The whole picture: ghosts, prints and arcs look at other frames, and what is seen first asks for its pictures. */
  const paintWhole = async (frame: number): Promise<void> => {
    do {
      for (const other of missed) await come(other);
      await come(frame);
      await pictures.allCame();
      missed.clear();
      paintStage(context, look.width, look.height, watched, view, frame, null, false);
    } while (missed.size > 0 || pictures.isWaiting);
  };

  return {
    paint: async (frame) => {
      await paintWhole(frame);
      const words = burnt[frame];
      if (words) paintBurnt(context, look.width, look.height, words);
      if (look.mark) paintMark(context, frame);
      // Packed without loss it is a tenth as large, and on its way in a tenth of the time.
      return canvas.toDataURL('image/png').slice(PNG_START.length);
    },
  };
}

window.printPage = printPage();
