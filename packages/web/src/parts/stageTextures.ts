/** Textures of sheets for three.js, and what this browser can draw them with. */
import {
  CanvasTexture,
  DataTexture,
  LinearFilter,
  LinearMipmapLinearFilter,
  NearestFilter,
  NoColorSpace,
  SRGBColorSpace,
  type Texture,
} from 'three';
import type { LiveLevel } from '@wet-lacquer/core/texture/liveLevels.ts';

/** Whether this browser can show models. */
export const hasWebGl = (): boolean => new OffscreenCanvas(1, 1).getContext('webgl2') !== null;

/** Without a graphics card the processor draws: edges are left as they come then, which is several times as fast. */
export const bySoftware = (() => {
  let known: boolean | undefined;
  return (): boolean => {
    if (known !== undefined) return known;
    const context = new OffscreenCanvas(1, 1).getContext('webgl2');
    const facts = context?.getExtension('WEBGL_debug_renderer_info');
    const name = facts ? String(context!.getParameter(facts.UNMASKED_RENDERER_WEBGL)) : '';
    return (known = /swiftshader|llvmpipe|software|basic render/i.test(name));
  };
})();

/** A canvas as a sheet's texture: sRGB, v down as in the template, mipmaps. */
export function sheetTexture(canvas: HTMLCanvasElement | OffscreenCanvas): CanvasTexture {
  const texture = new CanvasTexture(canvas as HTMLCanvasElement);
  texture.flipY = false;
  texture.colorSpace = SRGBColorSpace;
  texture.minFilter = LinearMipmapLinearFilter;
  texture.anisotropy = bySoftware() ? 1 : 4;
  return texture;
}

/** A sheet that changes: its levels are brought up to date by who owns them, so that no graphics card has to make them. @param coloured or values as they stand */
export function liveTexture(levels: readonly LiveLevel[], coloured = true): Texture {
  const texture = levelsTexture(levels);
  if (!coloured) texture.colorSpace = NoColorSpace;
  texture.anisotropy = bySoftware() ? 1 : 4;
  return texture;
}

/**
 * Levels of a texture as they are, none made here: sRGB, v down, the level by distance. With one level far texels are skipped over.
 * @param texels how a texel is chosen up close
 */
export function levelsTexture(
  levels: readonly { width: number; height: number; data: Uint8Array }[],
  texels: 'linear' | 'nearest' = 'linear',
): Texture {
  const [top] = levels;
  const texture = new DataTexture(top.data, top.width, top.height);
  if (levels.length > 1) texture.mipmaps = levels as unknown as DataTexture['mipmaps'];
  texture.colorSpace = SRGBColorSpace;
  texture.magFilter = texels === 'nearest' ? NearestFilter : LinearFilter;
  texture.minFilter = levels.length > 1 ? LinearMipmapLinearFilter : texture.magFilter;
  texture.generateMipmaps = false;
  texture.needsUpdate = true;
  return texture;
}

/** How dark tape is. */
const DIMMED = 0.5;

/** A picture that dims what is not open. */
export function dimming({ width, height, alpha }: { width: number; height: number; alpha: Uint8Array }): Texture {
  const data = new Uint8Array(width * height * 4);
  for (let i = 0; i < alpha.length; i++) data[i * 4 + 3] = Math.round((255 - alpha[i]) * DIMMED);
  const texture = new DataTexture(data, width, height);
  texture.magFilter = LinearFilter;
  texture.minFilter = LinearFilter;
  texture.needsUpdate = true;
  return texture;
}
