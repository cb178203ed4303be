/** Drawings that ask for more than a machine has are refused before a texel is drawn; drawings as people make them are not. */
import { readFileSync, readdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import { beforeAll, describe, expect, test } from 'vitest';
import { drawSvg, startSvg } from './svg.ts';
import { checkSvgBudget } from './svgBudget.ts';

const require = createRequire(import.meta.url);
const NS = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"';
const svg = (inside: string, head = 'width="100" height="100"') => `<svg ${NS} ${head}>${inside}</svg>`;
const full = 'width="100" height="100"';
const times = (n: number, piece: (i: number) => string) => Array.from({ length: n }, (_, i) => piece(i)).join('');

const HEAVY: [string, string][] = [
  [
    'a blur over a region four hundred times the drawing',
    svg(
      `<filter id="f" x="-10" y="-10" width="20" height="20"><feGaussianBlur stdDeviation="9"/></filter><rect ${full} filter="url(#f)"/>`,
    ),
  ],
  [
    'a blur wider than the drawing',
    svg(`<filter id="f"><feGaussianBlur stdDeviation="5000"/></filter><rect ${full} filter="url(#f)"/>`),
  ],
  [
    'a blur that a tiny view box makes wide',
    svg(
      `<filter id="f"><feGaussianBlur stdDeviation="90"/></filter><rect ${full} filter="url(#f)"/>`,
      'width="100" height="100" viewBox="0 0 .001 .001"',
    ),
  ],
  [
    'a blur that a transform makes wide',
    svg(
      `<filter id="f" filterUnits="userSpaceOnUse" ${full}><feGaussianBlur stdDeviation="1"/></filter><g transform="scale(40)"><g transform="matrix(9 0 0 9 0 0)"><rect ${full} filter="url(#f)"/></g></g>`
        .replace('<filter', '<g transform="scale(300)"><filter')
        .replace('</filter>', '</filter></g>'),
    ),
  ],
  [
    'many blurs',
    svg(
      `<filter id="f"><feGaussianBlur stdDeviation="20"/></filter>${times(400, () => `<rect ${full} filter="url(#f)"/>`)}`,
    ),
  ],
  [
    'many blurs by a style sheet',
    svg(
      `<style>.a{filter:url(#f)}</style><filter id="f"><feGaussianBlur stdDeviation="20"/></filter>${times(400, () => `<rect class="a" ${full}/>`)}`,
    ),
  ],
  [
    'noise in eight octaves, ten times',
    svg(
      `<filter id="f"><feTurbulence baseFrequency=".05" numOctaves="8"/></filter>${times(10, () => `<rect ${full} filter="url(#f)"/>`)}`,
    ),
  ],
  [
    'a morphology of nearly half the drawing',
    svg(`<filter id="f"><feMorphology radius="40"/></filter><rect ${full} filter="url(#f)"/>`),
  ],
  [
    'a matrix of a hundred by a hundred',
    svg(`<filter id="f"><feConvolveMatrix order="100"/></filter><rect ${full} filter="url(#f)"/>`),
  ],
  [
    'a pattern of a hundred thousand units',
    svg(
      `<pattern id="p" width="100000" height="100000" patternUnits="userSpaceOnUse"><rect ${full}/></pattern><rect ${full} fill="url(#p)"/>`,
    ),
  ],
  [
    'two thousand fills with a pattern',
    svg(
      `<pattern id="p" width="1" height="1" patternUnits="userSpaceOnUse"><rect width="1" height="1"/></pattern>${times(2000, () => `<rect ${full} fill="url(#p)"/>`)}`,
    ),
  ],
  [
    'patterns in patterns',
    svg(
      `<defs>${times(40, (i) => `<pattern id="p${i + 1}" width=".1" height=".1">${times(3, () => `<rect ${full} fill="url(#p${i})"/>`)}</pattern>`)}</defs><rect ${full} fill="url(#p40)"/>`,
    ),
  ],
  [
    'uses of uses of uses',
    svg(
      `<defs><g id="a0"><rect ${full}/></g>${times(9, (i) => `<g id="a${i + 1}">${`<use xlink:href="#a${i}"/>`.repeat(10)}</g>`)}</defs><use xlink:href="#a9"/>`,
    ),
  ],
  ['five hundred groups laid apart', svg(times(500, () => `<g opacity=".5"><rect ${full}/></g>`))],
  [
    'five hundred masks',
    svg(`<mask id="m"><rect ${full}/></mask>${times(500, () => `<rect mask="url(#m)" ${full}/>`)}`),
  ],
  ['dashes too small to see', svg(times(200, () => '<path stroke="#000" stroke-dasharray=".001" d="M0 0L100 100"/>'))],
  ['thousands of embedded pictures', svg(times(2000, () => `<image ${full} href="data:image/png;base64,AAAA"/>`))],
  ['groups ten thousand deep', svg('<g>'.repeat(10_000) + '</g>'.repeat(10_000))],
  ['a hundred thousand elements', svg('<path d="M0 0h1v1z"/>'.repeat(100_000))],
];

const FINE: [string, string][] = [
  [
    'a shadow',
    svg(
      `<filter id="f"><feGaussianBlur in="SourceAlpha" stdDeviation="3"/><feOffset dx="2" dy="2"/><feMerge><feMergeNode/><feMergeNode in="SourceGraphic"/></feMerge></filter><circle cx="50" cy="50" r="30" filter="url(#f)"/>`,
    ),
  ],
  [
    'a chequer as a pattern',
    svg(
      `<pattern id="p" width="20" height="20" patternUnits="userSpaceOnUse"><rect width="10" height="10"/><rect x="10" y="10" width="10" height="10"/></pattern><rect ${full} fill="url(#p)"/>`,
    ),
  ],
  [
    'a thousand paths with gradients by a style sheet',
    svg(
      `<style>.a{fill:url(#g)}</style><linearGradient id="g"><stop stop-color="#f00"/><stop offset="1"/></linearGradient>${times(1000, (i) => `<path class="a" d="M${i % 97} ${i % 89}h3v3z"/>`)}`,
    ),
  ],
  [
    'a mark used twelve times',
    svg(`<defs><path id="m" d="M0 0h8v8z"/></defs>${times(12, (i) => `<use href="#m" x="${i * 8}"/>`)}`),
  ],
  ['a reference to itself', svg(`<g id="a"><use href="#a"/><rect ${full}/></g>`)],
];

beforeAll(() => startSvg(() => readFileSync(require.resolve('@resvg/resvg-wasm/index_bg.wasm'))));

describe('refused, in one sentence and at once', () => {
  test.each(HEAVY)('%s', (_name, drawing) => {
    const began = performance.now();
    for (const act of [() => checkSvgBudget(drawing), () => drawSvg(drawing, 2048)]) {
      let said = '';
      try {
        act();
      } catch (error) {
        expect((error as Error).name).toBe('InputError');
        said = (error as Error).message;
      }
      expect(said).toMatch(/^This drawing .*\.$/);
    }
    expect(performance.now() - began).toBeLessThan(10_000);
  });
});

describe('drawn', () => {
  test.each(FINE)('%s', (_name, drawing) => {
    expect(drawSvg(drawing, 64).data.some((value, i) => i % 4 === 3 && value > 0)).toBe(true);
  });

  test('every mark of the demo world', () => {
    const folder = new URL('../../../../demo/marks/', import.meta.url);
    const marks = readdirSync(folder).filter((name) => name.endsWith('.svg'));
    expect(marks.length).toBeGreaterThan(3);
    for (const name of marks)
      expect(() => checkSvgBudget(readFileSync(new URL(name, folder), 'utf8')), name).not.toThrow();
  });
});
