/** A canvas as sharp as the screen, measured in the page's own pixels. */

interface Sharp {
  readonly context: CanvasRenderingContext2D;
  readonly width: number;
  readonly height: number;
  readonly ratio: number;
}

export function sharp(
  canvas: HTMLCanvasElement | null,
  settings?: CanvasRenderingContext2DSettings,
): Sharp | null {
  const context = canvas?.getContext('2d', settings);
  if (!canvas || !context) return null;
  const ratio = window.devicePixelRatio || 1;
  const { clientWidth: width, clientHeight: height } = canvas;
  const [across, down] = [Math.round(width * ratio), Math.round(height * ratio)];
  // Setting its size wipes a canvas and costs time, so only when it is another.
  if (canvas.width !== across || canvas.height !== down) {
    canvas.width = across;
    canvas.height = down;
  }
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  return { context, width, height, ratio };
}
