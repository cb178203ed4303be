/**
 * What it takes to draw a drawing, reckoned before any of it is drawn: a few bytes can ask for more than a machine has (a pattern of
 * patterns, a blur over a region a thousand times the drawing, a thousand uses of a thousand uses).
 */
import { SaxesParser } from 'saxes';
import { InputError } from '../errors.ts';

/** Elements in one another, as they stand and through references. */
const DEEPEST = 48;
const MOST_ELEMENTS = 60_000;
/** One is filling the whole drawing once: about 3 ms at 2048 x 2048. */
const MOST_WORK = 8000;
/** The others in the same measure, from drawing them with the rasteriser that is used: bench by hand, at 512 x 512. */
const ELEMENT = 0.05;
const LAID_APART = 60;
const MASKED = 85;
const TILED = 50;
const EMBEDDED = 50;
const PASS = 60;
const BLUR = 300;
const OCTAVE = 300;
const LIT = 300;
/** Dashes, and points of paths, that cost as much. */
const DASHES = 2000;
const POINTS = 5000;
/** Morphology and matrices look at all texels around each: reckoned at this side. */
const SIDE = 2048;
/** Standard deviations, in parts of the drawing's longer side. */
const WIDEST = 1;

interface Node {
  name: string;
  attributes: Readonly<Record<string, string>>;
  children: Node[];
  /** Ids that it refers to. */
  refers: string[];
  /** How much it is enlarged by its own transforms and those around it. */
  scale: number;
}

/** @throws InputError in one sentence when drawing it would take more than a drawing may */
export function checkSvgBudget(svg: string): void {
  if (checked.has(svg)) return;
  const { root, byId, styled, elements } = treeOf(svg);
  const side = sideOf(root);
  const known = new Map<Node, number>();
  const open = new Set<Node>();
  const workOf = (node: Node, depth: number): number => {
    const held = known.get(node);
    if (held !== undefined) return held;
    if (open.has(node)) return 0; // The rasteriser leaves out what would hold itself.
    if (depth > DEEPEST) throw new InputError(`This drawing is nested more than ${DEEPEST} deep; flatten it.`);
    open.add(node);
    let work = node.name === 'filter' ? filterWork(node, side) : ELEMENT + pathWork(node) + areaWork(node, side);
    // Definitions are drawn where they are referred to.
    for (const child of node.children) if (!DEFINES.has(child.name)) work += workOf(child, depth + 1);
    for (const id of node.refers) {
      const target = byId.get(id);
      if (target && target !== node) work += workOf(target, depth + 1);
    }
    open.delete(node);
    within(work);
    known.set(node, work);
    return work;
  };
  let work = workOf(root, 0);
  // Which elements a style sheet means is not worked out: it could be all of them.
  for (const id of styled) {
    const target = byId.get(id);
    if (target) work += elements * Math.max(0, workOf(target, 0) - LIGHT);
  }
  within(work);
  if (checked.size > 200) checked.clear();
  checked.add(svg);
}

const DEFINES = new Set(['defs', 'filter', 'pattern', 'mask', 'clipPath', 'marker', 'symbol']);
/** @throws InputError when it is more work than a drawing may be */
function within(work: number): void {
  if (work > MOST_WORK)
    throw new InputError('This drawing would take too long to draw: its patterns, filters or repeats are too heavy.');
}

/** A gradient with its stops: what most style sheets refer to. */
const LIGHT = 1;
const checked = new Set<string>();

function treeOf(svg: string): { root: Node; byId: Map<string, Node>; styled: Set<string>; elements: number } {
  const parser = new SaxesParser({ xmlns: false });
  const byId = new Map<string, Node>();
  const styled = new Set<string>();
  const stack: Node[] = [];
  let root: Node | null = null;
  let elements = 0;
  parser.on('opentag', ({ name, attributes }) => {
    if (++elements > MOST_ELEMENTS) throw new InputError(`This drawing has more than ${MOST_ELEMENTS} elements.`);
    if (stack.length > DEEPEST) throw new InputError(`This drawing is nested more than ${DEEPEST} deep; flatten it.`);
    const own = attributes as Record<string, string>;
    const around = stack.at(-1);
    const scale =
      (around?.scale ?? 1) *
      ['transform', 'patternTransform'].reduce((by, key) => by * (own[key] ? enlargement(own[key]) : 1), 1);
    const node: Node = { name: name.replace(/^.*:/, ''), attributes: own, children: [], refers: refersIn(own), scale };
    around?.children.push(node);
    root ??= node;
    if (own.id && !byId.has(own.id)) byId.set(own.id, node);
    stack.push(node);
  });
  parser.on('closetag', () => void stack.pop());
  const style = (text: string) => {
    if (stack.at(-1)?.name === 'style') for (const id of urlsIn(text)) styled.add(id);
  };
  parser.on('text', style);
  parser.on('cdata', style);
  try {
    parser.write(svg).close();
  } catch (error) {
    if (error instanceof InputError) throw error;
    throw new InputError('This SVG cannot be read: it is cut off or not well formed.');
  }
  if (!root) throw new InputError('This file is not an SVG drawing.');
  return { root, byId, styled, elements };
}

const urlsIn = (text: string): string[] => [...text.matchAll(/url\(\s*["']?#([^"')\s]+)/g)].map(([, id]) => id);

function refersIn(attributes: Readonly<Record<string, string>>): string[] {
  const all: string[] = [];
  for (const [key, value] of Object.entries(attributes)) {
    if (/(^|:)href$/.test(key) && value.startsWith('#')) all.push(value.slice(1));
    else if (value.includes('url(')) all.push(...urlsIn(value));
  }
  return all;
}

/** The most that a list of transforms enlarges a length. */
function enlargement(transform: string): number {
  let by = 1;
  for (const [, kind, inside] of transform.matchAll(/(\w+)\s*\(([^)]*)\)/g)) {
    const n = (inside.match(/[-+]?(?:\d*\.)?\d+(?:e[-+]?\d+)?/gi) ?? []).map(Number);
    if (kind === 'scale') by *= Math.max(Math.abs(n[0] ?? 1), Math.abs(n[1] ?? n[0] ?? 1));
    if (kind === 'matrix') by *= Math.max(Math.hypot(n[0] ?? 1, n[1] ?? 0), Math.hypot(n[2] ?? 0, n[3] ?? 1));
    if (kind === 'skewX' || kind === 'skewY') by *= 1 + Math.abs(Math.tan(((n[0] ?? 0) * Math.PI) / 180));
  }
  return Number.isFinite(by) ? by : Infinity;
}

const numberOf = (text: string | undefined, otherwise: number): number => {
  const n = Number.parseFloat(text ?? '');
  return Number.isFinite(n) ? n : otherwise;
};

/** The drawing's longer side in its own units. */
function sideOf({ attributes }: Node): number {
  const box = (attributes.viewBox ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  const [width, height] =
    box.length === 4 ? box.slice(2) : ['width', 'height'].map((k) => numberOf(attributes[k], 100));
  return Math.max(width, height, 1e-6);
}

/** A length against the drawing: percents and fractions of a box count as of the whole drawing. */
function share(text: string | undefined, otherwise: number, ofBox: boolean, side: number): number {
  if (text === undefined) return otherwise;
  const n = numberOf(text, otherwise);
  return Math.abs(text.trim().endsWith('%') ? n / 100 : ofBox ? n : n / side);
}

/** The region of a filter in drawings, by its longer side, squared: regions are laid down whole. */
function regionOf({ attributes, scale }: Node, side: number, units: string, otherwise: number): number {
  const ofBox = attributes[units] !== 'userSpaceOnUse';
  const [w, h] = ['width', 'height'].map((key) => share(attributes[key], otherwise, ofBox, side));
  return Math.max(w, 1 / side) * Math.max(h, 1 / side) * scale ** 2;
}

function filterWork(filter: Node, side: number): number {
  const region = Math.max(1, regionOf(filter, side, 'filterUnits', 1.2));
  const ofBox = filter.attributes.primitiveUnits === 'objectBoundingBox';
  const widest = (text: string | undefined) =>
    Math.max(
      ...(text ?? '0')
        .trim()
        .split(/[\s,]+/)
        .map((part) => share(part, 0, ofBox, side)),
    ) * filter.scale;
  let work = 0;
  for (const { name, attributes, children } of filter.children) {
    if (widest(attributes.stdDeviation) > WIDEST)
      throw new InputError('This drawing blurs by more than its own size; make that smaller.');
    if (name === 'feTurbulence') work += region * OCTAVE * Math.max(1, numberOf(attributes.numOctaves, 1));
    else if (name === 'feMorphology') work += region * (2 * widest(attributes.radius) * SIDE + 1) ** 2;
    else if (name === 'feConvolveMatrix') {
      const [a, b] = (attributes.order ?? '3')
        .trim()
        .split(/[\s,]+/)
        .map(Number);
      work += region * Math.max(9, a * (b ?? a)) * 10;
    } else if (/blur|shadow/i.test(name)) work += region * BLUR;
    else work += region * (name.endsWith('Lighting') ? LIT : PASS * Math.max(1, children.length));
  }
  return work;
}

/** Points of a path, and dashes along it. */
function pathWork({ attributes, scale }: Node): number {
  const points = ((attributes.d?.length ?? 0) + (attributes.points?.length ?? 0)) / 4;
  const dashes = attributes['stroke-dasharray'] ?? /stroke-dasharray\s*:\s*([^;]*)/.exec(attributes.style ?? '')?.[1];
  const lengths = (dashes?.match(/(?:\d*\.)?\d+(?:e[-+]?\d+)?/gi) ?? []).map(Number);
  const dash = lengths.reduce((sum, one) => sum + one, 0) / Math.max(1, lengths.length);
  // How long a line is, is not worked out: as long as its text could make it, four times a hundred at least.
  return points / POINTS + (dash > 0 ? (Math.max(400, points * 20) * scale) / dash / DASHES : 0);
}

/** Patterns are drawn into a piece of their own; masks, and groups with an opacity, into one as large as the drawing. */
function areaWork(node: Node, side: number): number {
  const { name, attributes } = node;
  if (name === 'pattern') return TILED + Math.max(0, regionOf(node, side, 'patternUnits', 0));
  if (name === 'mask' || name === 'clipPath') return MASKED;
  if (name === 'image') return EMBEDDED + (attributes.href ?? attributes['xlink:href'] ?? '').length / 20_000;
  const style = attributes.style ?? '';
  const apart =
    attributes.filter !== undefined || /(?<![-\w])(opacity|filter|mix-blend-mode|isolation)\s*:/.test(style);
  return apart || (name === 'g' && attributes.opacity !== undefined) ? LAID_APART : 0;
}
