/** Where the flat view looks. */
import { create } from 'zustand';

export interface View {
  /** Screen pixels per texel. */
  zoom: number;
  /** The texel in the middle of the view. */
  x: number;
  y: number;
  /** Screen pixels. */
  width: number;
  height: number;
}

/** Screen pixels that what is in hand takes at the top. */
const HAND_BAR = 30;

export const MIN_ZOOM = 1 / 32;
export const MAX_ZOOM = 64;

export const useView = create<View>(() => ({ zoom: 0.25, x: 0, y: 0, width: 1, height: 1 }));

const clampZoom = (zoom: number) => Math.min(MAX_ZOOM, Math.max(MIN_ZOOM, zoom));

/** Screen pixels (from the view's top left) to texels. */
export const toTexel = (view: View, px: number, py: number) => ({
  x: view.x + (px - view.width / 2) / view.zoom,
  y: view.y + (py - view.height / 2) / view.zoom,
});

/** Texels to screen pixels. */
export const toScreen = (view: View, x: number, y: number) => ({
  x: (x - view.x) * view.zoom + view.width / 2,
  y: (y - view.y) * view.zoom + view.height / 2,
});

/** Zooms so that the texel under a screen point stays there. */
export function zoomAt(view: View, factor: number, px: number, py: number): View {
  const zoom = clampZoom(view.zoom * factor);
  const at = toTexel(view, px, py);
  return { ...view, zoom, x: at.x - (px - view.width / 2) / zoom, y: at.y - (py - view.height / 2) / zoom };
}

/** The whole sheet, or box of sheets, with a margin. */
export function fit(
  view: View,
  { left = 0, top = 0, width, height }: { left?: number; top?: number; width: number; height: number },
): View {
  const zoom = clampZoom(Math.min((view.width - 32) / width, (view.height - HAND_BAR - 74) / height));
  return { ...view, zoom, x: left + width / 2, y: top + height / 2 + (37 - HAND_BAR / 2 - 12) / zoom };
}
