/** What draws on a canvas in two dimensions. @throws Error when the browser gives none */
export function context2d(
  canvas: HTMLCanvasElement,
  settings?: CanvasRenderingContext2DSettings,
): CanvasRenderingContext2D;
export function context2d(canvas: OffscreenCanvas): OffscreenCanvasRenderingContext2D;
export function context2d(canvas: HTMLCanvasElement | OffscreenCanvas, settings?: CanvasRenderingContext2DSettings) {
  const context = canvas.getContext('2d', settings);
  if (!context) throw new Error('This browser gives no canvas to draw on.');
  return context;
}
