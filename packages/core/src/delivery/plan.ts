import { mapContent, sortedJson } from '../depends/content.ts';
import { ENCODERS, RENDERER } from '../depends/versions.ts';
import { derivedNodes, derivesOn, setsFinish } from '../finish/derived.ts';
import { giveZones, zoneColours, type ZoneGiven } from '../finish/zones.ts';
import { wayLike } from '../livery/wayLike.ts';
import { layersOf, type Livery } from '../livery/livery.ts';
import { isOff, isUnseen, type Layer } from '../livery/layer.ts';
import type { Plate } from '../livery/plate.ts';
import {
  MAIN_MAP,
  beginningOf,
  originalKey,
  type BesideFile,
  type Follower,
  type OriginalFile,
  type Template,
  type TemplateSheet,
} from '../livery/template.ts';
import { headerBytes } from '../texture/dds.ts';
import { platesGltf } from '../plates/gltf.ts';
import { hasOwnTexture, plateKeys, platesInText, type PlateFile } from '../plates/placement.ts';
import { FORMATS, rowBytes, rowsOf } from '../texture/formats/index.ts';
import { fullMipCount, mipSize } from '../texture/mips.ts';
import { expand, nameFacts, sheetFacts } from './names.ts';
import { readmeOf } from './readme.ts';
import { makeSidecar, sidecarView } from './sidecar.ts';
import { continuesGame, NO_TARGET, slotText, type Target } from './target.ts';
import { FOLLOWED_IN, packedMaps, SpecFile, ZONE_MAP, type DeliverySpec, type SpecSidecar } from '../livery/spec.ts';

/** How a file's name comes about, for whoever gives it another one later: as its game's spec says it, and what is its own in it. */
export interface Named {
  pattern: string;
  /** Beside what is the livery's: `sheet.key`, `file.width` and the like. */
  naming: Readonly<Record<string, string>>;
}

export interface PlannedSheet extends Named {
  kind: 'sheet';
  /** Inside the livery's folder. */
  name: string;
  /** As the file has it: of a follower, its own size and key. */
  sheet: TemplateSheet;
  /** Whose art it carries: the sheet itself, or the one that it follows. */
  master: TemplateSheet;
  /** Key of the follower that it is; null: the sheet's own file. */
  follower: string | null;
  mirror: Follower['mirror'];
  spec: SpecFile;
  /** The file of the game's own that it goes over; null: none. */
  original: OriginalFile | null;
  /** Of a follower whose original is in another light: how strongly the paint takes it, 0..1; null: it carries the same art. */
  light: number | null;
  /** Of a map of zones: which colour of the view of finishes becomes which of the game's. */
  zones: Record<string, string> | null;
  /** Levels in the file. */
  mips: number;
  /** The plate whose picture the file is, and where on its sheet that lies; null: it is of the whole sheet. */
  plate: Pick<Plate, 'left' | 'top' | 'width' | 'height'> | null;
  /** The mip level that the file is, and the size of level 0; null: all levels are in one file. */
  level: { at: number; width: number; height: number } | null;
  /** Size of the finished file. Zero for kinds whose size is only known afterwards. */
  bytes: number;
  /** Why it is not delivered; null: it is. */
  leftOut: 'bare' | 'kept' | 'original' | null;
  /** What the file depends on, as text: equal text, equal file. */
  signature: string;
}

export interface PlannedSidecar extends Named {
  kind: 'sidecar';
  name: string;
  /** Which of the spec's sidecars it is, and what its template can say; null: it is made of no template. */
  made: { sidecar: number; view: object } | null;
  text: string;
  bytes: Uint8Array;
  /** The original's own text, where the sidecar is a change in it. */
  original: string | null;
  /** It continues or changes a file that is there. */
  continues: boolean;
  /** Why it will not work, a sentence each. */
  problems: string[];
}

/** A picture of the model with the livery on it. */
export interface PlannedThumbnail extends Named {
  kind: 'thumbnail';
  name: string;
  rule: NonNullable<DeliverySpec['thumbnail']>;
  signature: string;
}

/** A file that goes along as it came. */
export interface PlannedCompanion extends Named {
  kind: 'companion';
  name: string;
  /** What the template calls it. */
  file: BesideFile;
  signature: string;
}

export type PlannedFile = PlannedSheet | PlannedSidecar | PlannedThumbnail | PlannedCompanion;

export interface DeliveryPlan {
  /** With a slash at the end, inside the game's folder. */
  folder: string;
  files: PlannedFile[];
  /** The zip that all of it goes into, inside the game's folder; null: the files lie there by themselves. */
  package: string | null;
}

/** The files that are written: all but the sheets that are left out. */
export const written = (plan: DeliveryPlan): PlannedFile[] =>
  plan.files.filter((file) => file.kind !== 'sheet' || !file.leftOut);

/** Paths in the game's folder that a delivery writes. */
export const pathsOf = (plan: DeliveryPlan): string[] =>
  plan.package === null ? written(plan).map((file) => plan.folder + file.name) : [plan.package];

/** Whether nothing on a sheet shows: nothing by hand. Zones lie where colours do, and where a layer brings its finish alone. */
export const isBare = (livery: Livery, sheet: string, map = MAIN_MAP): boolean =>
  map === ZONE_MAP ? layersOf(livery, sheet).every(isOff) : layersOf(livery, sheet, map).every(isUnseen);

/** Whether something on a map follows from finishes that somebody set. Zones always do: that says nothing of them. */
const follows = (livery: Livery, template: Template, sheet: string, map: string): boolean =>
  map !== ZONE_MAP && derivedNodes(livery, sheet, map, derivesOn(template, sheet, map)).length > 0;

/** Whether a map shows what it began with, and nothing else. */
export function isOriginal(livery: Livery, template: Template, sheet: string, map: string): boolean {
  if (follows(livery, template, sheet, map)) return false;
  const looks = (layers: readonly Layer[]) => sortedJson(layers.map(({ id: _id, ...layer }) => layer));
  const begins = beginningOf(template, sheet, map);
  return begins.length > 0 && looks(begins) === looks(layersOf(livery, sheet, map));
}

/** Mip levels of a file of this size. */
const mipsIn = (
  { mips, container, levels }: SpecFile,
  { width, height }: { width: number; height: number },
): number => {
  if (mips === 'none' || (container !== 'dds' && !levels)) return 1;
  const full = fullMipCount(width, height);
  return mips === 'full' ? full : Math.min(mips, full);
};

/** Size of the file that a rule makes of a sheet. */
const sizeIn = ({ size, scale }: SpecFile, sheet: TemplateSheet) => {
  const times = (side: number) => Math.max(1, side * (scale ?? 1));
  return size ?? { width: times(sheet.width), height: times(sheet.height) };
};

/** Endings of texture files; a name has one of them at most. */
const TEXTURE_ENDING = /\.(dds|tga|png|jpe?g|webp)$/i;

/** A follower's own rule: its original's kind of file, where it has one. */
function followerRule(file: SpecFile, original: OriginalFile | null): SpecFile {
  if (!original) return file.over ? { ...file, over: undefined } : file;
  if (!file.over) return file;
  const { container, format, header, mips, width, height, alpha, upsideDown } = { ...original.stored, ...original };
  const known = SpecFile.shape.format.safeParse(format);
  const over = { follow: [...FOLLOWED_IN[container]] };
  return {
    ...file,
    container,
    format: known.success ? known.data : file.format,
    header: header ?? file.header,
    mips: mips === undefined || mips === 1 ? 'none' : mips === fullMipCount(width, height) ? 'full' : mips,
    flip: upsideDown,
    alpha: alpha === 'none' ? 'opaque' : 'keep',
    over,
    way: wayLike(original.stored),
  };
}

/** The name of a follower's file: as its own original's, or as its sheet's. */
export function followerName(file: SpecFile, { stem }: Follower, original: OriginalFile | null): string {
  if (stem === null) return file.name;
  if (original && file.over && original.name.replace(TEXTURE_ENDING, '') === stem.replace(TEXTURE_ENDING, ''))
    return original.name;
  return `${stem.replace(TEXTURE_ENDING, '')}.${file.container}`;
}

/** Maps that a file is made of. */
const mapsIn = ({ map, packed }: SpecFile): string[] => [...new Set([map, ...packedMaps(packed)])];

/**
 * Everything that would be written, with its names as they will be. Pure: nothing is drawn for it.
 * @param target what lies in the game's folder; see target.ts
 */
export function planDelivery(
  livery: Livery,
  template: Template,
  spec: DeliverySpec,
  target: Target = NO_TARGET,
): DeliveryPlan {
  const slot = slotText(spec, target.slot);
  const facts = nameFacts(livery, template, slot);
  const folder = expand(spec.folder, facts);
  const sheets: PlannedSheet[] = [];
  const given = givenZones(livery, template, spec);
  // A game that gets zones for one sheet asks for those of all.
  const finished = template.sheets.some(({ key }) => setsFinish(livery, key));
  const zoned = (file: SpecFile) => spec.zones !== undefined && (finished || file.untouched !== undefined);
  /** What each plate's picture is in. */
  const platesIn = new Map<Plate, PlateFile>();
  const keys = plateKeys(livery);
  for (const master of template.sheets) {
    const plates = (livery.plates ?? []).filter(
      ({ sheet, hidden }) => master.plates && sheet === master.key && !hidden,
    );
    const state = livery.sheets.find((s) => s.key === master.key);
    for (const file of spec.files) {
      if (file.sheets && !file.sheets.includes(master.key)) continue;
      if (!state || !(file.map === ZONE_MAP ? zoned(file) : state.maps.some((map) => map.key === file.map))) continue;
      const original = isOriginal(livery, template, master.key, file.map);
      const leftOut: PlannedSheet['leftOut'] = state.kept
        ? 'kept'
        : (master.plates && (!spec.plates || plates.length === 0)) ||
            (isBare(livery, master.key, file.map) && !follows(livery, template, master.key, file.map))
          ? 'bare'
          : original && !file.untouched && (file.map !== MAIN_MAP || file.inPlace || spec.unpainted)
            ? 'original'
            : null;
      const itsFile = template.originals?.[originalKey(master.key, file.map)] ?? null;
      const own = { ...master, ...sizeIn(file, master) };
      const namingOf = (sheet: TemplateSheet, level = 0) => ({
        ...sheetFacts(sheet),
        'file.level': String(level),
        'file.format': file.container === 'dds' ? file.format : file.container,
      });
      const nameOf = (pattern: string, sheet: TemplateSheet, level = 0) =>
        expand(pattern, { ...facts, ...namingOf(sheet, level) });
      const base = file.inPlace ? (target.bases.get(folder + nameOf(file.name, own)) ?? null) : null;
      const kept = file.over && !file.packed ? itsFile : null;
      const zones = file.map === ZONE_MAP ? zoneColours(livery, given) : null;
      const signature = leftOut ?? signatureOf(livery, template, spec, master.key, file, kept, zones);
      const common = { kind: 'sheet' as const, master, leftOut, zones };
      if (spec.plates && plates.length > 0 && !leftOut) {
        const byItself = file.plateName ? plates.filter((plate) => hasOwnTexture(plate, spec.plates!)) : [];
        for (const plate of byItself) {
          const naming = { ...namingOf(master), 'plate.key': keys.get(plate)! };
          const name = expand(file.plateName!, { ...facts, ...naming });
          const rule: SpecFile = { ...file, levels: undefined, size: undefined };
          const own = { ...master, ...sizeIn(rule, { ...master, width: plate.width, height: plate.height }) };
          const mips = mipsIn(rule, own);
          const { left, top, width, height } = plate;
          sheets.push({
            ...common,
            ...{ name, naming, pattern: file.plateName!, sheet: own, follower: null, mirror: 'none', spec: rule },
            ...{ original: null, light: null, mips, level: null, plate: { left, top, width, height } },
            bytes: rule.container === 'dds' ? ddsBytes(own, rule, mips) : 0,
            signature: JSON.stringify([signature, left, top, width, height]),
          });
          if (file.map === MAIN_MAP) platesIn.set(plate, { name, own: true });
        }
        if (byItself.length === plates.length) continue;
        const shared = nameOf(file.name, own);
        if (file.map === MAIN_MAP)
          for (const plate of plates) if (!byItself.includes(plate)) platesIn.set(plate, { name: shared, own: false });
      }
      /** The file of a sheet, or the files of its mip levels. */
      const add = (
        sheet: TemplateSheet,
        more: Pick<PlannedSheet, 'pattern' | 'follower' | 'mirror' | 'signature' | 'spec' | 'original' | 'light'>,
        size?: number,
      ) => {
        const { width, height } = sheet;
        const { spec: rule, original } = more;
        const mips = followsWhole(rule, original, sheet) ? (original.stored.mips ?? 1) : mipsIn(rule, sheet);
        for (let at = 0; at < (rule.levels ? mips : 1); at++) {
          const one = rule.levels ? { ...sheet, ...mipSize(width, height, at) } : sheet;
          const inFile = rule.levels ? 1 : mips;
          sheets.push({
            ...common,
            ...more,
            plate: null,
            name: nameOf(more.pattern, one, at),
            naming: namingOf(one, at),
            sheet: one,
            mips: inFile,
            level: rule.levels ? { at, width, height } : null,
            bytes: size ?? (rule.container === 'dds' ? ddsBytes(one, rule, inFile) : 0),
            signature: leftOut ?? (at > 0 ? JSON.stringify([more.signature, at]) : more.signature),
          });
        }
      };
      const inPlace = file.inPlace && (base?.bytes.length ?? itsFile?.bytes);
      const ownSize = kept && followsWhole(file, kept, own) ? kept.bytes : (inPlace ?? undefined);
      add(
        own,
        { pattern: file.name, follower: null, mirror: 'none', signature, spec: file, original: kept, light: null },
        ownSize,
      );
      if (file.map !== MAIN_MAP) continue;
      for (const follower of master.followers ?? []) {
        const { key, name, width, height, mirror, light } = follower;
        const sheet = { ...master, key, name, width, height };
        const theirs = template.originals?.[originalKey(master.key, 'colour', key)] ?? null;
        const rule = followerRule(file, theirs);
        const original = rule.over ? theirs : null;
        const strength = original && itsFile && light !== undefined ? light / 100 : null;
        add(
          sheet,
          {
            pattern: followerName(file, follower, theirs),
            follower: key,
            mirror,
            spec: rule,
            original,
            light: strength,
            signature: JSON.stringify([
              signature,
              width,
              height,
              mirror,
              rule,
              original?.blob,
              strength,
              itsFile?.blob,
            ]),
          },
          original && followsWhole(rule, original, sheet) ? original.bytes : undefined,
        );
      }
    }
  }
  const files: PlannedFile[] = [...sheets];
  const out = sheets.filter((file) => !file.leftOut);
  if (spec.thumbnail)
    files.push({
      kind: 'thumbnail',
      name: expand(spec.thumbnail.name, facts),
      pattern: spec.thumbnail.name,
      naming: {},
      rule: spec.thumbnail,
      signature: JSON.stringify([
        spec.thumbnail,
        RENDERER,
        ENCODERS,
        template.sheets.map((sheet) => mapContent(livery, template, sheet.key, 'colour')),
        ...(livery.plates ? [sortedJson(livery.plates)] : []),
      ]),
    });
  for (const { file, name } of spec.companions ?? []) {
    const kept = template.beside?.find((one) => one.name === file);
    if (kept)
      files.push({
        ...{ kind: 'companion', name: expand(name, facts), pattern: name, naming: {} },
        ...{ file: kept, signature: kept.blob },
      });
  }
  const view = sidecarView(
    livery,
    template,
    folder,
    slot === null ? null : { text: slot, number: target.slot },
    out.map((file) => ({ sheet: file.sheet.key, map: file.spec.map, name: file.name })),
    given,
    spec.plates ? platesInText(livery, template, spec.plates, platesIn) : [],
  );
  const gltf = () => platesGltf(livery, template, platesIn);
  for (const [i, sidecar] of spec.sidecars.entries()) {
    if (platesIn.size === 0 && (sidecar.when === 'plates' || sidecar.making.kind === 'plates')) continue;
    for (const of of sidecar.each ? view.sheets : [null]) {
      const sheet = of ? template.sheets.find((s) => s.key === of.key) : undefined;
      const naming = sheet ? sheetFacts(sheet) : {};
      const name = expand(sidecar.name, { ...facts, ...naming });
      const seen = of ? { ...view, sheet: of } : view;
      const made = makeSidecar(sidecar, name, seen, facts, baseOf(sidecar.making, target, folder + name), gltf);
      files.push({
        ...{ kind: 'sidecar', name, pattern: sidecar.name, naming, made: { sidecar: i, view: seen } },
        ...{ continues: continuesGame(sidecar.making), ...made },
      });
    }
  }
  if (spec.readme) {
    const text = readmeOf(livery, template, spec, target.credits);
    files.push({
      kind: 'sidecar',
      name: expand(spec.readme.name, facts),
      pattern: spec.readme.name,
      naming: {},
      made: null,
      text,
      bytes: new TextEncoder().encode(text),
      original: null,
      continues: false,
      problems: [],
    });
  }
  for (const { file, as } of spec.pairs ?? []) {
    const [from, to] = [expand(file, facts), expand(as, facts)];
    for (const one of files) if (one.name === from) one.name = to;
  }
  return { folder, files, package: spec.package ? expand(spec.package.name, facts) : null };
}

/** The text that a sidecar changes: what lies in the game's folder, or the file that the template keeps. */
function baseOf(making: SpecSidecar['making'], target: Target, path: string): Uint8Array | undefined {
  const there = continuesGame(making) ? target.bases.get(path)?.bytes : undefined;
  return there ?? (making.kind === 'changed' && making.of ? target.kept.get(making.of) : undefined);
}

/** Whether a file is its original with the paint in it: of the original's kind, size and way up, and like it in all that can be followed. */
export function followsWhole(
  rule: SpecFile,
  original: OriginalFile | null,
  { width, height }: { width: number; height: number },
): original is OriginalFile {
  if (!rule.over || !original || rule.packed || rule.levels || rule.inPlace) return false;
  const { stored, upsideDown } = original;
  return (
    stored.container === rule.container &&
    stored.width === width &&
    stored.height === height &&
    upsideDown === rule.flip &&
    (rule.container !== 'dds' || stored.format === rule.format || stored.format === 'masks') &&
    FOLLOWED_IN[rule.container].every((what) => rule.over!.follow.includes(what))
  );
}

/** Bytes of a DDS file of a sheet. */
export function ddsBytes(sheet: TemplateSheet, file: SpecFile, mips: number): number {
  let bytes = headerBytes(file.header);
  for (let level = 0; level < mips; level++) {
    const size = mipSize(sheet.width, sheet.height, level);
    bytes += rowsOf(FORMATS[file.format], size.height) * rowBytes(FORMATS[file.format], size.width);
  }
  return bytes;
}

/** Which finish goes to which of the game's zones: looked at over all sheets, so that one finish is one zone everywhere. */
export const givenZones = (livery: Livery, template: Template, spec: DeliverySpec): ZoneGiven[] =>
  giveZones(
    livery,
    spec.zones ?? [],
    template.sheets.map(({ key }) => key).filter((key) => isZoned(livery, key)),
  );

/** Whether a sheet's finishes count: it is delivered. */
const isZoned = (livery: Livery, sheet: string): boolean =>
  !livery.sheets.find(({ key }) => key === sheet)?.kept && !isBare(livery, sheet, ZONE_MAP);

/** All that a sheet's file depends on. */
function signatureOf(
  livery: Livery,
  template: Template,
  spec: DeliverySpec,
  sheet: string,
  file: SpecFile,
  original: OriginalFile | null,
  zones: PlannedSheet['zones'],
): string {
  // How it is called, for which sheets it is, and whether it goes at all change nothing in it.
  const { name: _name, plateName: _plateName, sheets: _sheets, untouched: _untouched, ...rule } = file;
  const drawn = mapsIn(file).map((map) => mapContent(livery, template, sheet, map));
  if (zones) drawn.push(JSON.stringify(zones));
  return JSON.stringify([RENDERER, ENCODERS, sortedJson(rule), spec.ground, original?.blob ?? null, drawn]);
}
