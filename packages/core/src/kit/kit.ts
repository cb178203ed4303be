/** A team's kit: its colours and its marks, and for each mark the part that it lay on; on another subject it is asked for part by part. */
import type { Layer } from '../livery/layer.ts';
import { layersOf, type Livery } from '../livery/livery.ts';
import type { SingleEdit } from '../livery/edit.ts';
import { dressFor, parcelOf, type Face, type KitPart, type Parcel } from '../livery/parcel.ts';
import type { LayerId } from '../livery/ids.ts';
import { sheetNamed, type Template, type TemplatePart, type TemplateSheet } from '../livery/template.ts';
import { spotOfTexel, surfaceOf } from '../surface/locate.ts';
import { laidLike } from '../transfer/onSheet.ts';
import { faceOf, offFace, onFace, wholeSheet } from './faces.ts';

/** The most marks that a kit holds. */
const MOST_MARKS = 500;

const isMark = ({ kind }: Layer): boolean => kind === 'decal' || kind === 'lettering';

/** The whole scheme, and the decals and lettering of every sheet's colour. */
export function packKit(livery: Livery, template: Template): Parcel {
  const marks: Layer[] = [];
  const lying = new Map<TemplatePart | TemplateSheet, LayerId[]>();
  const seen = new Set<string>();
  for (const sheet of template.sheets)
    for (const layer of layersOf(livery, sheet.key)) {
      // What lies on the model, or over several sheets, is the same layer on each of them.
      const one = layer.across ?? layer.id;
      if (!isMark(layer) || seen.has(one) || marks.length === MOST_MARKS) continue;
      seen.add(one);
      marks.push(layer);
      if (layer.on) continue;
      const under = partUnder(template, sheet.key, layer) ?? sheet;
      lying.set(under, [...(lying.get(under) ?? []), layer.id]);
    }
  const parts = [...lying].map(([under, layers]): KitPart => ({ face: faceUnder(template, under), layers }));
  const parcel = parcelOf(livery, template.sheets[0], marks, [...livery.scheme]);
  return parts.length > 0 ? { ...parcel, parts } : parcel;
}

const faceUnder = (template: Template, under: TemplatePart | TemplateSheet): Face =>
  'width' in under ? wholeSheet(under) : (faceOf(template, under) ?? wholeSheet(sheetNamed(template, under.sheet!)));

/** The part under a mark's middle; where it keeps to one part, that. */
function partUnder(template: Template, sheetKey: string, layer: Layer): TemplatePart | undefined {
  if (template.boards || !('x' in layer)) return undefined;
  const parts = template.parts.filter(({ sheet }) => sheet === sheetKey);
  const kept = layer.parts.length === 1 ? parts.find(({ key }) => key === layer.parts[0]) : undefined;
  if (kept) return kept;
  const under = spotOfTexel(surfaceOf(template, sheetKey), layer.x, layer.y);
  return under ? parts.find(({ key }) => key === under.part) : undefined;
}

/** Part by part what a kit brings; one from before parts were told is its sheet as a whole. */
export function partsOf({ parts, from, layers }: Parcel): KitPart[] {
  if (parts) return parts;
  const { sheet: key, width, height } = from;
  const marks = layers.filter(({ on }) => !on).map(({ id }) => id);
  return marks.length > 0 ? [{ face: wholeSheet({ key, name: key, width, height }), layers: marks }] : [];
}

/** Where the marks of each part go: a face of the subject that is dressed, or nowhere. */
export type Aims = ReadonlyMap<KitPart, Face | null>;

/** What is proposed before anybody has looked: by name first, then by which way parts look and how they are shaped. */
export const proposeAims = (parts: readonly KitPart[], faces: readonly Face[]): Aims =>
  new Map(
    parts.map((part) => {
      const ranked = faces
        .map((face) => ({ face, likes: likeness(part.face, face) }))
        .sort((a, b) => b.likes - a.likes);
      return [part, ranked.length > 0 && ranked[0].likes >= LEAST ? ranked[0].face : null];
    }),
  );

/** How much a name, a direction and a shape say, of what has them all alike. */
const [NAME, WAY, SHAPE] = [3, 2, 1];
/** Less alike than this, and nothing is proposed: much of a name, or a direction and a shape. */
const LEAST = 1.5;

/** How alike two faces are, 0 to NAME + WAY + SHAPE. */
export function likeness(a: Face, b: Face): number {
  const [ours, theirs] = [wordsOf(a.name), wordsOf(b.name)];
  const shared = [...ours].filter((word) => theirs.has(word)).length;
  // The two sides are never one another, however alike their names are.
  const crossed = SIDES.some(
    ([one, other]) => (ours.has(one) && theirs.has(other)) || (ours.has(other) && theirs.has(one)),
  );
  const name = (2 * shared) / Math.max(1, ours.size + theirs.size);
  const way = Math.max(
    0,
    a.looks.reduce((sum, v, axis) => sum + v * b.looks[axis], 0),
  );
  const [ra, rb] = [a.width / a.height, b.width / b.height];
  return (crossed ? 0 : NAME * name) + WAY * way + SHAPE * Math.min(ra / rb, rb / ra);
}

/** Words that common practice uses for the two sides of a craft; no source. */
const SIDES = [
  ['port', 'starboard'],
  ['left', 'right'],
  ['front', 'rear'],
  ['bow', 'stern'],
  ['top', 'bottom'],
] as const;

const wordsOf = (name: string): Set<string> =>
  new Set(
    name
      .toLowerCase()
      .split(/[^\p{L}\p{N}]+/u)
      .filter((word) => word !== ''),
  );

/**
 * A mark of one face on another: at the same place of it, upright and the same way round as it was there, as large as the smaller of both
 * sides lets it be.
 */
export function onOther(layer: Layer, from: Face, to: Face): Layer | null {
  if (!('x' in layer)) return null;
  const scale = Math.min(to.width / from.width, to.height / from.height);
  const { right, down } = onFace(from, layer.x, layer.y);
  const middle = offFace(to, (right * to.width) / from.width, (down * to.height) / from.height);
  const mirrored = from.hand !== to.hand;
  // Mirrored first, then turned: of a face that is laid out mirrored the turn counts the other way.
  const turn = mirrored ? -(from.turn + to.turn) : from.turn - to.turn;
  const laid = laidLike(layer, { mirrored, turn, scale, x: 0, y: 0, off: 0, size: 0 });
  return laid && 'x' in laid ? { ...laid, x: tidy(middle.x), y: tidy(middle.y) } : null;
}

const tidy = (v: number): number => Math.round(v * 1000) / 1000;

export interface PutOn {
  edits: SingleEdit[];
  /** Marks that come, by the sheet that they come to. */
  marks: { sheet: string; layer: Layer }[];
  /** Names of marks that cannot be laid there. */
  left: string[];
}

/** What puts a kit on a livery: each mark above all that is on its sheet. */
export function putOn(
  kit: Parcel,
  livery: Livery,
  template: Template,
  aims: Aims,
  onModel: 'as they lie' | 'left out',
): PutOn {
  const { edits, worn } = dressFor(kit, livery);
  const aimOf = new Map(
    [...aims].flatMap(([part, to]) => part.layers.map((id) => [id, { from: part.face, to }] as const)),
  );
  const out: PutOn = { edits, marks: [], left: [] };
  for (const given of kit.layers) {
    const aim = aimOf.get(given.id);
    if (given.on) {
      if (onModel === 'as they lie')
        out.marks.push({
          sheet: template.sheets[0].key,
          layer: worn(given, kit.from.template === livery.pins.template),
        });
      continue;
    }
    if (!aim?.to) continue;
    const laid = onOther(worn(given, false), aim.from, aim.to);
    if (!laid) out.left.push(given.name);
    else {
      const keeps = given.parts.length > 0 && template.parts.some(({ key }) => key === aim.to?.key);
      out.marks.push({ sheet: aim.to.sheet, layer: keeps ? { ...laid, parts: [aim.to.key] } : laid });
    }
  }
  const next = new Map<string, number>();
  for (const { sheet, layer } of out.marks) {
    const index = next.get(sheet) ?? layersOf(livery, sheetNamed(template, sheet).key).length;
    next.set(sheet, index + 1);
    edits.push({ do: 'add-layer', sheet, map: 'colour', layer, index });
  }
  return out;
}
