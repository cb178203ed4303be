import { InputError } from '@wet-lacquer/core/errors.ts';

/** Lines per curve. */
const STEPS = 16;

/**
 * The closed shapes of a drawing as rings in texels. A drawing as large as the sheet, by its view box, lies on it unit for texel; another
 * is scaled to it. @throws InputError in one sentence
 */
export async function ringsOfSvg(text: string, sheet: { width: number; height: number }): Promise<number[][]> {
  const { SVGLoader } = await import('three/addons/loaders/SVGLoader.js');
  const parsed = new DOMParser().parseFromString(text, 'image/svg+xml');
  const root = parsed.documentElement;
  if (root.nodeName !== 'svg' || parsed.querySelector('parsererror'))
    throw new InputError('This is not an SVG drawing.');
  const box = (root.getAttribute('viewBox') ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  const side = (name: string) => Number.parseFloat(root.getAttribute(name) ?? '');
  const [x, y, width, height] =
    box.length === 4 && box.every(Number.isFinite) ? box : [0, 0, side('width'), side('height')];
  if (!(width > 0 && height > 0)) throw new InputError('This drawing does not say how large it is.');
  const [sx, sy] = [sheet.width / width, sheet.height / height];
  const rings = new SVGLoader()
    .parse(text)
    .paths.flatMap((path) => path.subPaths)
    .map((path) => path.getPoints(STEPS).flatMap((p) => [round((p.x - x) * sx), round((p.y - y) * sy)]))
    .map((ring) => {
      const end = ring.length - 2;
      return ring[0] === ring[end] && ring[1] === ring[end + 1] ? ring.slice(0, end) : ring;
    })
    .filter((ring) => ring.length >= 6);
  if (rings.length === 0) throw new InputError('This drawing has no closed shape.');
  if (rings.length > 500 || rings.some((ring) => ring.length > 20_000))
    throw new InputError('This drawing has more lines than an outline can take.');
  return rings;
}

const round = (value: number) => Math.round(value * 100) / 100;
