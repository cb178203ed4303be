import { InputError } from '@wet-lacquer/core/errors.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';

/** Lines per curve. */
const STEPS = 16;

/** A closed shape of a drawing: what it is called there, and its rings. */
export interface DrawnOutline {
  name: string | null;
  rings: number[][];
}

/**
 * The closed shapes of a drawing as rings in texels, each named by its own id or title, else by that of the group around it. A drawing as large as the sheet, by its view box, lies on it unit for texel; another
 * is scaled to it. @throws InputError in one sentence
 */
export async function ringsOfSvg(text: string, sheet: { width: number; height: number }): Promise<DrawnOutline[]> {
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
  const outlines = new SVGLoader()
    .parse(text)
    .paths.map((path): DrawnOutline => {
      const rings = path.subPaths
        .map((sub) => sub.getPoints(STEPS).flatMap((p) => [round((p.x - x) * sx), round((p.y - y) * sy)]))
        .map((ring) => {
          const end = ring.length - 2;
          return ring[0] === ring[end] && ring[1] === ring[end + 1] ? ring.slice(0, end) : ring;
        })
        .filter((ring) => ring.length >= 6);
      return { name: nameOf((path.userData as { node?: Element } | undefined)?.node ?? null), rings };
    })
    .filter(({ rings }) => rings.length > 0);
  if (outlines.length === 0) throw new InputError('This drawing has no closed shape.');
  if (outlines.length > 200 || outlines.some(({ rings }) => rings.length > 500 || rings.some((r) => r.length > 20_000)))
    throw new InputError('This drawing has more lines than outlines can take.');
  return outlines;
}

/** Ids that editors make up. */
const MADE_UP = /^(path|rect|g|polygon|polyline|line|circle|ellipse|use|layer)[-_]?\d[\d-]*$/i;

/** What a shape is called in its drawing. */
function nameOf(node: Element | null): string | null {
  for (let at = node; at && at.nodeName !== 'svg'; at = at.parentElement) {
    const title = [...at.children].find(({ nodeName }) => nodeName === 'title')?.textContent?.trim();
    const label =
      at.getAttribute('aria-label') ?? [...at.attributes].find(({ localName }) => localName === 'label')?.value;
    const id = at.getAttribute('id');
    const name = title || label || (id && !MADE_UP.test(id) ? id.replace(/[_-]+/g, ' ') : null);
    if (name) return cutTo(name, 60);
  }
  return null;
}

const round = (value: number) => Math.round(value * 100) / 100;
