/** Proposes what each layer of a layered file is for. Names mislead, so what the pixels show is weighed against them; the painter settles it. */
import { heldIn } from '../held.ts';
import { nodesIn, type LayeredFile, type LayeredNode } from '../layered/layered.ts';
import { lookOf, type LayerLook } from './layerLook.ts';
import { wordsOf } from './words.ts';

/** What a layer is for: it is painted and delivered; drawn over the art and never delivered; read by the game; or another map's. */
export type LayerRole = 'art' | 'guide' | 'data' | 'map';

export interface ProposedRole {
  readonly role: LayerRole;
  /** Which map, for the role "map". */
  readonly map: string | null;
  /** Why, in a sentence. */
  readonly reason: string;
  /** Name and pixels agree, or one of them says it plainly. */
  readonly sure: boolean;
}

const GUIDE_WORDS =
  /^(wires?|wireframes?|mesh|uvs?|uvw|unwrap|layout|guides?|guidelines?|template|frames?|safe|grid|outlines?|seams?|collider|collision|hitbox|reference|references|ref|refs|notes?|info|legend|readme|instructions?|help|labels?|annotations?|delete|hide|remove|overlay|watermark|axis|symmetry|margins?|bleed|cut|lines)$/;
const MASK_WORDS = /^(masks?|matte|stencil|coverage|silhouettes?|islands?)$/;
const FRAME_WORDS = /^(frames?|safe|margins?|bleed|cut|borders?)$/;
const BACKDROP = /back(drop|ground|ing)|(^|[^a-z])bg([^a-z]|$)|^(paper|ground|colou?r fill|layer) ?\d*$/i;
const DATA_WORDS =
  /^(params?|parameters?|settings?|swatch|swatches|box|boxes|codes?|data|config|control|controls|lookup|lut|values?)$/;
/** Lines of these are painted on the thing itself. */
const PAINTED_LINES = /^(panels?|plates?|rivets?|stripes?|pin|trim|speed|livery)$/;
const SHADING_WORDS = /^(ao|occlusion|ambient|shading|shadows?|shade|highlights?|lights?|lighting|bake|baked)$/;
const MAP_WORDS: readonly [RegExp, string][] = [
  [/^(normals?|nrm|nml|normalmap|bump|bumps|bumpmap)$/, 'normal'],
  [
    /^(rough|roughness|metal|metallic|metalness|gloss|glossiness|spec|specular|orm|finish|material|reflection|reflect)$/,
    'finish',
  ],
  [/^(night|emissive|emission|emit|glow|lit|selfillum|illumination)$/, 'night'],
  [/^(alpha|opacity|transparency)$/, 'alpha'],
];

const percent = (share: number) => (share > 0 && share < 0.01 ? 'under 1 %' : `${Math.round(share * 100)} %`);

/** Proposals for every layer and group of a file, first on first, groups before their layers. */
export function proposeRoles(file: Pick<LayeredFile, 'width' | 'height' | 'nodes'>): Map<LayeredNode, ProposedRole> {
  const out = new Map<LayeredNode, ProposedRole>();
  const all = nodesIn(file.nodes);
  const layers = all.map(({ node }) => node).filter((node) => node.kind === 'layer');
  const looks = new Map(layers.map((layer) => [layer, lookOf(layer, file.width, file.height)]));
  const lowest = layers.find((layer) => !layer.hidden && (looks.get(layer)?.covers ?? 0) > 0);
  for (const { node, path } of all) {
    if (node.kind === 'group') continue;
    out.set(node, propose(node, path, heldIn(looks, node), node === lowest));
  }

  // A plain ground that fills everything under a frame stands for what is not there.
  const framed = [...out].some(
    ([node, { role }]) => role === 'guide' && wordsOf(node.name).some((word) => FRAME_WORDS.test(word)),
  );
  const ground = lowest && looks.get(lowest);
  if (framed && ground && ground.colours === 1 && ground.covers > 0.98 && BACKDROP.test(lowest.name))
    out.set(lowest, {
      role: 'guide',
      map: null,
      reason: 'A plain backdrop that fills everything, under the frame of this file.',
      sure: false,
    });

  // A colour label that only guides carry makes guides of the others that carry it.
  const labels = new Map<string, Set<LayerRole>>();
  for (const [node, { role, sure }] of out) {
    if (node.label && (sure || role !== 'art')) labels.set(node.label, (labels.get(node.label) ?? new Set()).add(role));
  }
  for (const [node, { role, sure }] of out) {
    const roles = node.label ? labels.get(node.label) : undefined;
    if (role === 'art' && !sure && roles?.size === 1 && roles.has('guide'))
      out.set(node, {
        role: 'guide',
        map: null,
        reason: `It carries the colour label "${node.label}", as the guides of this file do.`,
        sure: false,
      });
  }

  // A group is what all its layers are; mixed ones are art.
  for (const { node } of all.toReversed()) {
    if (node.kind !== 'group') continue;
    const inside = node.nodes.map((child) => heldIn(out, child));
    const roles = new Set(inside.map((proposal) => `${proposal.role}/${proposal.map}`));
    const [first] = inside;
    out.set(
      node,
      first && roles.size === 1
        ? { ...first, reason: 'All its layers are.' }
        : { role: 'art', map: null, reason: first ? 'Its layers are of several kinds.' : 'It is empty.', sure: false },
    );
  }
  return out;
}

function propose(node: LayeredNode, path: readonly string[], look: LayerLook, lowest: boolean): ProposedRole {
  const own = wordsOf(node.name);
  const around = path.flatMap(wordsOf);
  const say = (role: LayerRole, reason: string, sure = true, map: string | null = null): ProposedRole => ({
    role,
    map,
    reason,
    sure,
  });
  const word = (pattern: RegExp) => own.find((w) => pattern.test(w)) ?? around.find((w) => pattern.test(w));
  const named = (w: string) =>
    own.includes(w) ? `It is called "${node.name}"` : `It is in "${path.find((p) => wordsOf(p).includes(w))}"`;
  const paintedLines = own.includes('lines') && own.some((w) => PAINTED_LINES.test(w));
  const base = lowest && look.covers > 0.5 && look.solid > 0.8 && look.thin < 0.3;
  const lines = look.thin > 0.85 && look.colours <= 4 && look.spread > 0.25 && look.covers < 0.35;

  if (look.covers === 0) {
    const guide = word(GUIDE_WORDS);
    return guide ? say('guide', `${named(guide)}, and it is empty.`) : say('art', 'It is empty.', false);
  }

  const [r, g, b] = look.mean;
  const normalLike = Math.abs(r - 128) < 14 && Math.abs(g - 128) < 14 && b > 215 && look.covers > 0.05;
  if (normalLike && node.blend === 'normal')
    return say('map', 'Its colours are those of a normal map.', true, 'normal');

  const data = word(DATA_WORDS);
  if (data && look.covers < 0.1 && look.thin < 0.9 && look.colours <= 48)
    return say('data', `${named(data)}, and covers only ${percent(look.covers)} of the sheet.`, look.boxes > 0);
  if (look.boxes >= 3 && look.covers < 0.05 && !word(GUIDE_WORDS))
    return say('data', `It is ${look.boxes} flat boxes and nothing else, as games read colours from.`, false);

  // Flat black and white says where something is, not what it looks like.
  const masking = word(MASK_WORDS);
  if (look.blackWhite > 0.99 && look.colours <= 2 && look.solid > 0.9 && !lines && node.blend === 'normal') {
    const all = look.covers > 0.98 && look.colours === 2 && node.hidden;
    if (masking || all)
      return say(
        'guide',
        masking
          ? `${named(masking)}, and is flat ${look.colours === 2 ? 'black and white' : 'black or white'}: a mask.`
          : 'Flat black and white over the whole sheet, as a mask of its islands.',
        masking !== undefined,
      );
  }

  const found = word(GUIDE_WORDS);
  const guide = paintedLines && found === 'lines' ? undefined : found;
  if (guide) {
    if (base)
      return say(
        'art',
        `${named(guide)}, but it is the lowest layer and covers ${percent(look.covers)} of the sheet: it looks like the art itself.`,
        false,
      );
    return say(
      'guide',
      lines ? `${named(guide)}, and its pixels are thin lines.` : `${named(guide)}.`,
      lines || own.includes(guide),
    );
  }
  if (lines && !paintedLines)
    return say(
      'guide',
      `Thin lines of ${look.colours === 1 ? 'one colour' : 'few colours'} over the sheet, as a wire has.`,
      false,
    );

  const shading = word(SHADING_WORDS);
  const map = MAP_WORDS.find(([pattern]) => word(pattern));
  if (map && !shading) {
    const w = word(map[0])!;
    const mixes = node.blend !== 'normal';
    if (!mixes && !base && look.covers > 0.02)
      return say('map', `${named(w)}.`, own.includes(w) && look.covers > 0.2, map[1]);
  }
  if (shading && node.blend !== 'normal')
    return say('art', `${named(shading)} and is mixed by "${node.blend}": shading of the art.`);
  if (base) return say('art', `The lowest layer, covering ${percent(look.covers)} of the sheet.`);
  return say(
    'art',
    `It covers ${percent(look.covers)} of the sheet, in ${look.colours >= 64 ? 'many colours' : look.colours === 1 ? 'one colour' : `${look.colours} colours`}.`,
    false,
  );
}
