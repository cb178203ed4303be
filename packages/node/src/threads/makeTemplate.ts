/** Makes a template out of files that were understood, as the painter settled it; runs in a thread. */
import { capital } from '@wet-lacquer/core/capital.ts';
import { heldIn } from '@wet-lacquer/core/held.ts';
import { folderOf, stemOf } from '@wet-lacquer/core/paths.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { filesNamedBy } from '@wet-lacquer/core/models/beside.ts';
import type { ReadMesh } from '@wet-lacquer/core/models/mesh.ts';
import { canBe, fileKind, type ModelKind } from '@wet-lacquer/core/kinds/index.ts';
import { namedBeside, readModel } from '@wet-lacquer/core/models/readModel.ts';
import { stoodUp } from '@wet-lacquer/core/models/upAxis.ts';
import { packPixels, unpackPixels } from '@wet-lacquer/core/files/pixels.ts';
import { proposeRoles } from '@wet-lacquer/core/intake/layerRoles.ts';
import type { Decisions, TextureFacts } from '@wet-lacquer/core/intake/understood.ts';
import { nodesIn, type LayeredNode } from '@wet-lacquer/core/layered/layered.ts';
import { layersOf, type FlatLayer } from '@wet-lacquer/core/layered/layersOf.ts';
import { newLayerId } from '@wet-lacquer/core/livery/ids.ts';
import { originalLayer } from '@wet-lacquer/core/livery/originalLayer.ts';
import { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { withShadingLast } from '@wet-lacquer/core/livery/shading.ts';
import { slugOf } from '@wet-lacquer/core/livery/slug.ts';
import { DeliverySpec, SpecFile } from '@wet-lacquer/core/livery/spec.ts';
import {
  BesideFile,
  OriginalFile,
  originalKey,
  Template,
  type Follower,
  type MeshData,
  type ParameterBox,
  type StoredAs,
  type TemplateGuide,
  type TemplateMap,
  type TemplateSheet,
} from '@wet-lacquer/core/livery/template.ts';
import { flipRows, type Image8 } from '@wet-lacquer/core/raster/image.ts';
import { mirrorImage } from '@wet-lacquer/core/raster/mirror.ts';
import { lightRelation } from '@wet-lacquer/core/delivery/light.ts';
import { channelsNamed } from '@wet-lacquer/core/intake/channelNames.ts';
import { resample } from '@wet-lacquer/core/texture/resample.ts';
import type { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { freeKey } from '@wet-lacquer/core/surface/reviseTemplate.ts';
import { AS_ORIGINAL, broughtFolder, ruleLike } from '@wet-lacquer/core/intake/ruleLike.ts';
import { boxesIn } from '@wet-lacquer/core/intake/boxesIn.ts';
import { besideBoxes } from '@wet-lacquer/core/intake/besideBoxes.ts';
import { islandsOf } from '@wet-lacquer/core/surface/islands.ts';
import { proposeParts } from '@wet-lacquer/core/surface/proposeParts.ts';
import { symmetryAxis } from '@wet-lacquer/core/surface/symmetry.ts';
import { symmetryPlane } from '@wet-lacquer/core/surface/symmetryPlane.ts';
import { hashOf } from '../hash.ts';
import { readyKey, type ReadyTexture } from './readyTextures.ts';
import { texture, textureKindOf } from '../textures/index.ts';
import { readLayered } from './understand.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';

export interface MadeTemplate {
  document: Template;
  /** Stored pixels that the template refers to, by hash. */
  blobs: Map<string, Uint8Array>;
  /** What could not be taken over as it was, in sentences. */
  remarks: string[];
}

/** A file that was brought, whether or not anything was settled about it. */
export interface BroughtFile {
  name: string;
  /** SHA-256 of its bytes. */
  blob: string;
  bytes: number;
  /** What it is, or why it cannot be used. */
  what: string;
}

/** Decodes and packs one texture; what takes longest of a template, so that threads can share it. @throws InputError */
export async function readyTexture(task: {
  bytes: Uint8Array;
  name: string;
  upsideDown: boolean;
}): Promise<ReadyTexture> {
  const { image, facts } = await texture(task.bytes, textureKindOf(task.bytes, task.name));
  const bytes = packPixels(task.upsideDown ? flipRows(image) : image);
  return { facts, bytes, blob: hashOf(bytes) };
}

/**
 * @param ready textures that were packed beforehand, by name and whether they were turned; see readyKey
 * @param files bytes of the files that the decisions name
 * @param brought all files of the folder; those that end up in no sheet are kept beside them
 * @throws InputError in one sentence
 */
export async function makeTemplate(task: {
  decisions: Decisions;
  files: Map<string, Uint8Array>;
  brought?: readonly BroughtFile[];
  ready?: ReadonlyMap<string, ReadyTexture>;
}): Promise<MadeTemplate> {
  const { decisions, files, brought = [], ready = new Map<string, ReadyTexture>() } = task;
  const blobs = new Map<string, Uint8Array>();
  const remarks: string[] = [];
  const keep = (image: Image8): Sha256 => {
    const bytes = packPixels(image);
    const hash = hashOf(bytes);
    blobs.set(hash, bytes);
    return hash;
  };
  const bytesOf = (name: string) => {
    const bytes = files.get(name);
    if (!bytes) throw new InputError(`"${name}" is no longer among the files.`);
    return bytes;
  };

  const textureOf = async (name: string) => {
    const bytes = bytesOf(name);
    return texture(bytes, textureKindOf(bytes, name));
  };
  const readyOf = async (name: string, upsideDown: boolean): Promise<ReadyTexture> => {
    const one =
      ready.get(readyKey(name, upsideDown)) ?? (await readyTexture({ bytes: bytesOf(name), name, upsideDown }));
    blobs.set(one.blob, one.bytes);
    return one;
  };

  // An archive stands for what was found in it.
  const loose = brought.filter(({ name }) => !brought.some((other) => other.name.startsWith(`${name}/`)));
  /** What was inside the model lies where the model does. */
  const outside = (name: string) =>
    decisions.model && name.startsWith(`${decisions.model}/`)
      ? folderOf(decisions.model) + name.slice(decisions.model.length + 1)
      : name;
  const root = broughtFolder((loose.length > 0 ? loose.map(({ name }) => name) : [...files.keys()]).map(outside));
  /** A file's path below the folder that was brought: the game's own tree. */
  const below = (name: string) => outside(name).slice(root.length);
  const originals: Record<string, OriginalFile> = {};
  const keepFile = (at: string, name: string, stored: StoredAs, pixels: string | null, upsideDown: boolean) => {
    const bytes = bytesOf(name);
    originals[at] = OriginalFile.parse({
      name: below(name),
      blob: hashOf(bytes),
      bytes: bytes.length,
      pixels,
      upsideDown,
      stored,
    });
  };
  const sheets: TemplateSheet[] = [];
  const guides: TemplateGuide[] = [];
  const begin: Record<string, Layer[]> = {};
  const specFiles: SpecFile[] = [];
  const keys = new Set<string>();
  for (const wanted of decisions.sheets) {
    const key = freeKey(wanted.name, keys);
    keys.add(key);
    const upright = (image: Image8) => (wanted.upsideDown ? flipRows(image) : image);
    let size = { width: wanted.side, height: wanted.side };
    let facts: TextureFacts | null = null;
    const layers: Layer[] = [];
    const boxes: ParameterBox[] = [];
    const boxed = new Set<LayeredNode>();
    /** Layers of the layered file that belong to other maps. */
    const inFile = new Map<string, Layer[]>();
    if (wanted.colour) {
      const read = await readyOf(wanted.colour, wanted.upsideDown);
      facts = read.facts;
      size = { width: facts.width, height: facts.height };
      layers.push(originalLayer(read.blob, size));
      keepFile(originalKey(key), wanted.colour, facts.stored!, read.blob, wanted.upsideDown);
    }
    if (wanted.layered) {
      const bytes = bytesOf(wanted.layered);
      const kind = fileKind(bytes, wanted.layered);
      if (!canBe('layered', kind)) throw new InputError(`"${wanted.layered}" is not a layered file.`);
      const file = await readLayered(bytes, kind);
      if (facts && (file.width !== size.width || file.height !== size.height))
        throw new InputError(
          `"${wanted.layered}" is ${file.width} x ${file.height}, but "${wanted.colour}" is ${size.width} x ${size.height}: they cannot be one sheet.`,
        );
      size = { width: file.width, height: file.height };
      const proposed = proposeRoles(file);
      const own = decisions.roles[wanted.layered] ?? {};
      const roles = new Map(
        nodesIn(file.nodes).map(({ node }, i) => [node, own[String(i)] ?? heldIn(proposed, node).role]),
      );
      for (const { node } of nodesIn(file.nodes)) {
        if (node.kind !== 'layer' || roles.get(node) !== 'data' || node.hidden) continue;
        const [layer] = layersOf([{ ...node, clipped: false }], file, () => true);
        // Colours in boxes are settings; anything else that must ship is art.
        const found = layer && boxesIn(layer.image, layer.left, layer.top, size);
        if (!found) continue;
        boxed.add(node);
        const lettering = besideBoxes(file, found);
        found.forEach((box, i) => {
          const name = lettering[i] ?? (cutTo(layer.name.trim(), 60) || 'Box');
          boxes.push({ ...box, key: freeKey(name, new Set(boxes.map((b) => b.key))), name, means: '' });
        });
      }
      const ships = (node: LayeredNode) => roles.get(node) === 'art' || roles.get(node) === 'data';
      const art = layersOf(file.nodes, file, (node) => ships(node) && !boxed.has(node));
      if (art.length > 0) {
        // The layered art stands for the original, which stays at hand below it.
        for (const [i, layer] of layers.entries()) layers[i] = { ...layer, hidden: true };
        for (const layer of art) {
          layers.push(pictureLayer(layer, keep));
          if (layer.merged) remarks.push(`"${layer.name}" of ${wanted.layered} comes as one picture.`);
        }
      }
      for (const guide of layersOf(file.nodes, file, (node) => roles.get(node) === 'guide')) {
        const { image, left, top, name } = guide;
        guides.push({
          key: `${key}-${guides.length + 1}`,
          name,
          sheet: key,
          blob: keep(image),
          left,
          top,
          width: image.width,
          height: image.height,
        });
      }
      const mapOf = (node: LayeredNode) => (roles.get(node) === 'map' ? (proposed.get(node)?.map ?? 'other') : null);
      for (const map of new Set(nodesIn(file.nodes).map(({ node }) => mapOf(node)))) {
        if (map === null) continue;
        const found = layersOf(file.nodes, file, (node) => mapOf(node) === map);
        if (map === 'alpha' && found.length > 0)
          remarks.push(`${wanted.layered}: layers of an alpha channel were left out; paint with alpha instead.`);
        else if (found.length > 0)
          inFile.set(
            map,
            found.map((layer) => pictureLayer(layer, keep)),
          );
      }
      for (const { layer, what } of file.losses) remarks.push(`${wanted.layered}, "${layer}": ${what}`);
    }
    const alpha = !facts || facts.alpha === 'none' ? 'none' : facts.alpha === 'cutout' ? 'cutout' : 'coverage';
    const maps: TemplateMap[] = [];
    for (const { map, file } of wanted.maps) {
      const read = await readyOf(file, wanted.upsideDown);
      const own = { width: read.facts.width, height: read.facts.height };
      const same = own.width === size.width && own.height === size.height;
      const space = map === 'night' ? 'srgb' : 'linear';
      const fitted = () => keep(resample(unpackPixels(read.bytes), size.width, size.height, space));
      const blob = same ? read.blob : fitted();
      begin[`${key}/${map}`] = [originalLayer(blob, size)];
      keepFile(originalKey(key, map), file, read.facts.stored!, blob, wanted.upsideDown);
      const channels = channelsNamed(map, below(file));
      maps.push({
        key: map,
        name: capital(map),
        alpha: read.facts.alpha === 'none' ? 'none' : 'data',
        ...(channels && { channels }),
      });
      const rule = ruleLike(key, below(file), read.facts, remarks, map);
      specFiles.push({ ...rule, flip: wanted.upsideDown, ...(!same && { size: own }) });
    }
    for (const [map, own] of inFile) {
      const where = `${key}/${map}`;
      begin[where] = [...(begin[where] ?? []), ...own];
      if (maps.some((known) => known.key === map)) continue;
      maps.push({ key: map, name: capital(map), alpha: 'none' });
      specFiles.push(ruleLike(key, null, null, remarks, map));
    }
    const followers: Follower[] = [];
    for (const file of wanted.followers) {
      const name = cutTo(stemOf(file), 60);
      const { facts: own, image } = await textureOf(file);
      const mirror = handOf(upright(image), layers[0], blobs);
      const followerKey = freeKey(name, keys);
      keys.add(followerKey);
      keepFile(originalKey(key, 'colour', followerKey), file, own.stored!, null, wanted.upsideDown);
      const master = layers[0]?.kind === 'picture' ? unpackPixels(heldIn(blobs, layers[0].blob)) : null;
      const light = master && lightRelation(master, mirrorImage(upright(image), mirror));
      if (light && light.kind === 'unlike')
        remarks.push(
          `${below(file)} is not the same picture in another light: what is painted on ${wanted.name} goes on it as it is.`,
        );
      followers.push({
        key: followerKey,
        name,
        width: own.width,
        height: own.height,
        mirror,
        stem: below(file).replace(/\.[^./]*$/, ''),
        ...(light?.kind === 'light' && { light: 100 }),
        ...(light?.kind === 'unlike' && { unlike: true as const }),
      });
    }
    sheets.push({
      key,
      name: wanted.name,
      ...size,
      alpha,
      axis: null,
      ...(maps.length > 0 && { maps }),
      ...(followers.length > 0 && { followers }),
      ...(boxes.length > 0 && { boxes }),
    });
    begin[key] = withShadingLast(layers);
    const rule = ruleLike(key, wanted.colour && below(wanted.colour), facts, remarks);
    specFiles.push({ ...rule, flip: wanted.upsideDown });
  }

  const read = decisions.model ? await modelOf(decisions, bytesOf(decisions.model), files, remarks) : boards(sheets);
  const byMaterial = new Map(
    decisions.sheets.flatMap(({ material, also }, i) => [material, ...also].map((one) => [one, sheets[i].key])),
  );
  const names = new Map<string, number>();
  const parts = read.groups.map(({ name, material, first, count, bare }, i) => {
    const plain = name.trim() || material || `part ${i + 1}`;
    const times = (names.get(plain) ?? 0) + 1;
    names.set(plain, times);
    return {
      key: `p${i + 1}`,
      name: times > 1 ? `${plain} ${times}` : plain,
      // A board wears the sheet that it stands for, whatever that was called.
      sheet: bare ? null : decisions.model ? (byMaterial.get(material) ?? null) : sheets[i].key,
      first,
      count,
      hex: null,
    };
  });
  const mesh = shortly(read.mesh);
  const subject = { sheets, parts, mesh };
  const withAxis = sheets.map((sheet) => ({ ...sheet, axis: symmetryAxis(subject, sheet.key) }));
  const worn = decisions.model ? new Set(islandsOf(subject).map(({ sheet }) => sheet)) : null;
  for (const sheet of sheets)
    if (worn && !worn.has(sheet.key)) remarks.push(`No part of the model wears ${sheet.name}.`);

  // What the model is read with is part of it.
  const settled = new Set([...files.keys()].filter((name) => !decisions.companions.includes(name)));
  const beside = loose
    .filter(({ name }) => !settled.has(name))
    .map(({ name, blob, bytes, what }) =>
      BesideFile.parse({ name: below(name), blob, bytes, why: what.slice(0, 300) }),
    );
  const companions = beside.filter(({ name }) => decisions.companions.some((one) => below(one) === name));

  const key = slugOf(decisions.name) || 'subject';
  const ownSpec = DeliverySpec.parse({
    ...AS_ORIGINAL,
    key: `as-original-${key}`,
    version: 1,
    game: slugOf(decisions.game) || 'game',
    gameName: decisions.game,
    files: specFiles,
    companions: companions.map(({ name }) => ({ file: name, name })),
  });
  const document = Template.parse({
    schema: 1,
    key,
    name: decisions.name,
    game: ownSpec.game,
    gameName: decisions.game,
    spec: { key: ownSpec.key, version: 1 },
    sheets: withAxis,
    parts,
    mesh,
    ...(read.plane && { plane: read.plane }),
    ...(!decisions.model && { boards: true }),
    guides,
    begin,
    originals,
    ...(beside.length > 0 && { beside }),
    ownSpec,
    ...(decisions.replaces && { replaces: decisions.replaces }),
  });
  return { document, blobs, remarks };
}

/** The model as it was settled: upright, in metres. */
async function modelOf(
  { model, stance }: Decisions,
  bytes: Uint8Array,
  files: ReadonlyMap<string, Uint8Array>,
  remarks: string[],
): Promise<Standing> {
  const name = model!;
  const kind = fileKind(bytes, name);
  if (!canBe('model', kind)) throw new InputError(`"${name}" is not a model.`);
  const read = await readModel(bytes, kind, besideOf(bytes, kind, name, files), stance);
  remarks.push(...read.said.map((sentence) => `${name}: ${sentence}`));
  const mesh = stoodUp(read.mesh, stance);
  const plane = symmetryPlane(mesh) ?? undefined;
  const { divide } = stance;
  const parts = divide ? proposeParts(mesh, read.groups, plane ?? null) : { mesh, groups: read.groups };
  return { ...parts, plane: plane && { normal: plane.normal, offset: plane.offset } };
}

type Standing = Pick<ReadMesh, 'mesh' | 'groups'> & { plane?: Template['plane'] };

/** Files that a model is read with, by the paths that it writes. */
const besideOf = (bytes: Uint8Array, kind: ModelKind, model: string, files: ReadonlyMap<string, Uint8Array>) =>
  new Map(
    filesNamedBy([...files.keys()], model, namedBeside(bytes, kind)).map(({ path, name }) => [
      path,
      heldIn(files, name),
    ]),
  );

/** Numbers with as many digits as single precision holds (nine, IEEE 754), of directions five decimals: a mesh is kept as text. */
function shortly({ positions, normals, uvs, indices }: MeshData): MeshData {
  const nine = (v: number) => Number(v.toPrecision(9));
  return {
    positions: positions.map(nine),
    normals: normals.map((v) => Number(v.toFixed(5))),
    uvs: uvs.map(nine),
    indices,
  };
}

/** Without a model each sheet stands upright as a board, a metre high, one beside the other. */
function boards(sheets: readonly TemplateSheet[]): Standing {
  const mesh = { positions: [] as number[], normals: [] as number[], uvs: [] as number[], indices: [] as number[] };
  let left = 0;
  const groups = sheets.map((sheet, i) => {
    const width = sheet.width / sheet.height;
    mesh.positions.push(left, 0, 0, left + width, 0, 0, left + width, 1, 0, left, 1, 0);
    mesh.normals.push(...Array.from({ length: 4 }, () => [0, 0, 1]).flat());
    mesh.uvs.push(0, 1, 1, 1, 1, 0, 0, 0);
    mesh.indices.push(...[0, 1, 2, 0, 2, 3].map((k) => i * 4 + k));
    left += width + 0.1;
    return { name: sheet.name, material: sheet.key, first: i * 2, count: 2 };
  });
  return { mesh, groups };
}

function pictureLayer(layer: Omit<FlatLayer, 'merged' | 'id'>, keep: (image: Image8) => string): Layer {
  const { image, left, top, hidden, blend, oneOf } = layer;
  const short = (name: string) => cutTo(name.trim(), 80) || 'Option';
  return Layer.parse({
    kind: 'picture',
    id: newLayerId(),
    name: cutTo(layer.name.trim(), 80) || 'Layer',
    phase: 'Base',
    hidden,
    locked: false,
    opacity: Math.round(layer.opacity * 1000) / 10,
    blend,
    parts: [],
    blob: keep(image),
    left,
    top,
    width: image.width,
    height: image.height,
    ...(oneOf && { oneOf: { of: short(oneOf.of), is: short(oneOf.is) } }),
  });
}

/** How a follower's picture lies to the one that it follows: compared small, as it is and mirrored. */
function handOf(image: Image8, of: Layer | undefined, blobs: ReadonlyMap<string, Uint8Array>): Follower['mirror'] {
  const bytes = of?.kind === 'picture' && blobs.get(of.blob);
  if (!bytes) return 'none';
  const small = (picture: Image8) => resample(picture, 32, 32, 'linear');
  const [own, master] = [small(image), small(unpackPixels(bytes))];
  const apart = (mirror: Follower['mirror']) => {
    const turned = mirrorImage(own, mirror).data;
    return turned.reduce((sum, value, i) => sum + Math.abs(value - master.data[i]), 0);
  };
  const hands = ['none', 'across', 'down'] as const;
  return hands.reduce((best, hand) => (apart(hand) < apart(best) * 0.8 ? hand : best));
}
