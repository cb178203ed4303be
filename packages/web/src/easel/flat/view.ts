/** Where the flat view looks. */
import { create } from 'zustand';

/** A part of the texels on a rectangle of paper. */
export interface Look {
  /** Screen pixels per texel. */
  zoom: number;
  /** The texel in the middle of the view. */
  x: number;
  y: number;
  /** Of the paper that the sheet lies on, screen pixels: as large as fills what is seen however it is turned. */
  width: number;
  height: number;
}

export interface View extends Look {
  /** Degrees clockwise that the paper is turned on the screen, about its middle. */
  turn: number;
  /** Seen from behind: left and right change places before it is turned. */
  mirrored: boolean;
  /** What is seen of the paper, screen pixels. */
  seen: { width: number; height: number };
}

/** Screen pixels that what is in hand takes at the top. */
const HAND_BAR = 30;

export const MIN_ZOOM = 1 / 32;
export const MAX_ZOOM = 64;

const small = { width: 1, height: 1 };
export const useView = create<View>(() => ({
  zoom: 0.25,
  x: 0,
  y: 0,
  ...small,
  turn: 0,
  mirrored: false,
  seen: small,
}));

/** The smallest paper that fills what is seen of it. */
function paperFor({ width, height }: View['seen'], turn: number): View['seen'] {
  if (turn % 180 === 0) return { width, height };
  if (turn % 90 === 0) return { width: height, height: width };
  const side = Math.ceil(Math.hypot(width, height));
  return { width: side, height: side };
}

export const setSeen = (seen: View['seen']) => useView.setState(({ turn }) => ({ seen, ...paperFor(seen, turn) }));

/** Turns the paper to an angle, about the middle of what is seen. */
export const turnTo = (turn: number) =>
  useView.setState(({ seen }) => {
    const within = ((((turn + 180) % 360) + 360) % 360) - 180;
    return { turn: within, ...paperFor(seen, within) };
  });
export const turnView = (by: number) => turnTo(useView.getState().turn + by);

export function upright(): void {
  turnTo(0);
  useView.setState({ mirrored: false });
}
export const mirrorView = () => useView.setState(({ mirrored }) => ({ mirrored: !mirrored }));

type Turned = Pick<View, 'turn' | 'mirrored'>;

/** A way on the screen as a way on the paper. */
export function toPaper({ turn, mirrored }: Turned, dx: number, dy: number) {
  const [cos, sin] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)];
  const x = dx * cos + dy * sin;
  return { x: mirrored ? -x : x, y: dy * cos - dx * sin };
}

/** Where something on the screen lies on the paper, pixels from the paper's own top left. @param paper the element, as it is turned */
export function onPaper(paper: Element, { clientX, clientY }: { clientX: number; clientY: number }) {
  const view = useView.getState();
  const { left, top, width, height } = paper.getBoundingClientRect();
  const { x, y } = toPaper(view, clientX - left - width / 2, clientY - top - height / 2);
  return { x: x + view.width / 2, y: y + view.height / 2 };
}

/** The texel under something on the screen. */
export function texelAt(paper: Element, event: { clientX: number; clientY: number }) {
  const { x, y } = onPaper(paper, event);
  return toTexel(useView.getState(), x, y);
}

const clampZoom = (zoom: number) => Math.min(MAX_ZOOM, Math.max(MIN_ZOOM, zoom));

/** Screen pixels (from the view's top left) to texels. */
export const toTexel = (view: Look, px: number, py: number) => ({
  x: view.x + (px - view.width / 2) / view.zoom,
  y: view.y + (py - view.height / 2) / view.zoom,
});

/** Texels to screen pixels. */
export const toScreen = (view: Look, x: number, y: number) => ({
  x: (x - view.x) * view.zoom + view.width / 2,
  y: (y - view.y) * view.zoom + view.height / 2,
});

/** Zooms so that the texel under a screen point stays there. */
export function zoomAt<V extends Look>(view: V, factor: number, px: number, py: number): V {
  const zoom = clampZoom(view.zoom * factor);
  const at = toTexel(view, px, py);
  return { ...view, zoom, x: at.x - (px - view.width / 2) / zoom, y: at.y - (py - view.height / 2) / zoom };
}

/** The whole sheet, or box of sheets, with a margin. */
export function fitView<V extends Look & Partial<Omit<View, keyof Look>>>(
  view: V,
  { left = 0, top = 0, width, height }: { left?: number; top?: number; width: number; height: number },
): V {
  const { turn = 0, mirrored = false, seen = view } = view;
  const across = toPaper({ turn, mirrored }, 1, 0);
  const [a, b] = [Math.abs(across.x), Math.abs(across.y)];
  const zoom = clampZoom(
    Math.min((seen.width - 32) / (width * a + height * b), (seen.height - HAND_BAR - 74) / (width * b + height * a)),
  );
  // Between what is in hand at the top and the bar at the foot.
  const down = toPaper({ turn, mirrored }, 0, (37 - HAND_BAR / 2 - 12) / zoom);
  return { ...view, zoom, x: left + width / 2 + down.x, y: top + height / 2 + down.y };
}

/** What the next sheet that is shown is looked at by, in place of all of it. */
let wanted: Parameters<typeof fitView>[1] | null = null;

/** Looks at a box of texels: of the sheet at hand, or of the one that is gone to. */
export function lookAt(box: Parameters<typeof fitView>[1], elsewhere: boolean): void {
  if (elsewhere) wanted = box;
  else useView.setState((view) => fitView(view, box));
}

/** The box that was wanted of the sheet that is shown now; null: none was. */
export function takeWanted(): typeof wanted {
  const box = wanted;
  wanted = null;
  return box;
}
