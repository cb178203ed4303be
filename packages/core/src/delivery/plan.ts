import { layersOf, type Livery } from '../livery/livery.ts';
import { boxesOf } from '../livery/boxes.ts';
import { paintsOf, type Layer } from '../livery/layer.ts';
import { colourOf, fillIn } from '../livery/livery.ts';
import { beginningOf, type Follower, type Template, type TemplateSheet } from '../livery/template.ts';
import { headerBytes } from '../texture/dds.ts';
import { FORMATS, rowBytes, rowsOf } from '../texture/formats.ts';
import { fullMipCount, mipSize } from '../texture/mips.ts';
import { expand, nameFacts } from './names.ts';
import { readmeOf } from './readme.ts';
import { makeSidecar, sidecarView } from './sidecar.ts';
import { NO_TARGET, slotText, type Target } from './target.ts';
import { packedMaps, type DeliverySpec, type SpecFile } from '../livery/spec.ts';

export interface PlannedSheet {
  kind: 'sheet';
  /** Inside the livery's folder. */
  name: string;
  pattern: string;
  /** As the file has it: of a follower, its own size and key. */
  sheet: TemplateSheet;
  /** Whose art it carries: the sheet itself, or the one that it follows. */
  master: TemplateSheet;
  /** Key of the follower that it is; null: the sheet's own file. */
  follower: string | null;
  mirror: Follower['mirror'];
  spec: SpecFile;
  /** Levels in the file. */
  mips: number;
  /** The mip level that the file is, and the size of level 0; null: all levels are in one file. */
  level: { at: number; width: number; height: number } | null;
  /** Size of the finished file. Zero for kinds whose size is only known afterwards. */
  bytes: number;
  /** Why it is not delivered; null: it is. */
  leftOut: 'bare' | 'kept' | 'original' | null;
  /** What the file depends on, as text: equal text, equal file. */
  signature: string;
}

export interface PlannedSidecar {
  kind: 'sidecar';
  name: string;
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
export interface PlannedThumbnail {
  kind: 'thumbnail';
  name: string;
  rule: NonNullable<DeliverySpec['thumbnail']>;
  signature: string;
}

export type PlannedFile = PlannedSheet | PlannedSidecar | PlannedThumbnail;

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

/** Whether nothing on a sheet shows. */
export function isBare(livery: Livery, sheet: string, map = 'colour'): boolean {
  return layersOf(livery, sheet, map).every((layer) => layer.hidden || layer.opacity === 0);
}

/** JSON whose text does not depend on the order in which a database gives keys back. */
const sorted = (value: unknown) =>
  JSON.stringify(value, (_key, part: unknown) =>
    part && typeof part === 'object' && !Array.isArray(part)
      ? Object.fromEntries(Object.entries(part).sort(([a], [b]) => (a < b ? -1 : 1)))
      : part,
  );

/** Whether a map shows what it began with, and nothing else. */
export function isOriginal(livery: Livery, template: Template, sheet: string, map: string): boolean {
  const looks = (layers: readonly Layer[]) => sorted(layers.map(({ id: _id, ...layer }) => layer));
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
  for (const master of template.sheets) {
    const state = livery.sheets.find((s) => s.key === master.key);
    for (const file of spec.files) {
      if (file.sheets && !file.sheets.includes(master.key)) continue;
      if (!state?.maps.some((map) => map.key === file.map)) continue;
      const original = isOriginal(livery, template, master.key, file.map);
      const leftOut: PlannedSheet['leftOut'] = state.kept
        ? 'kept'
        : isBare(livery, master.key, file.map)
          ? 'bare'
          : original && (file.map !== 'colour' || file.inPlace || spec.unpainted)
            ? 'original'
            : null;
      const own = { ...master, ...sizeIn(file, master) };
      const nameOf = (pattern: string, sheet: TemplateSheet, level = 0) =>
        expand(pattern, { ...nameFacts(livery, template, slot, sheet), 'file.level': String(level) });
      const base = file.inPlace ? (target.bases.get(folder + nameOf(file.name, own)) ?? null) : null;
      const signature = leftOut ?? signatureOf(livery, template, master.key, file);
      const common = { kind: 'sheet' as const, spec: file, master, leftOut };
      /** The file of a sheet, or the files of its mip levels. */
      const add = (
        sheet: TemplateSheet,
        more: Pick<PlannedSheet, 'pattern' | 'follower' | 'mirror' | 'signature'>,
        size?: number,
      ) => {
        const { width, height } = sheet;
        const mips = mipsIn(file, sheet);
        for (let at = 0; at < (file.levels ? mips : 1); at++) {
          const one = file.levels ? { ...sheet, ...mipSize(width, height, at) } : sheet;
          const inFile = file.levels ? 1 : mips;
          sheets.push({
            ...common,
            ...more,
            name: nameOf(more.pattern, one, at),
            sheet: one,
            mips: inFile,
            level: file.levels ? { at, width, height } : null,
            bytes: size ?? (file.container === 'dds' ? ddsBytes(one, file, inFile) : 0),
            signature: leftOut ?? (at > 0 ? JSON.stringify([more.signature, at]) : more.signature),
          });
        }
      };
      add(own, { pattern: file.name, follower: null, mirror: 'none', signature }, base?.bytes.length);
      if (file.map !== 'colour') continue;
      for (const follower of master.followers ?? []) {
        const { key, name, width, height, mirror, stem } = follower;
        const sheet = { ...master, key, name, width, height };
        const pattern = stem === null ? file.name : `${stem}.${file.container}`;
        add(sheet, {
          pattern,
          follower: key,
          mirror,
          signature: JSON.stringify([signature, width, height, mirror]),
        });
      }
    }
  }
  const files: PlannedFile[] = [...sheets];
  const out = sheets.filter((file) => !file.leftOut);
  if (spec.thumbnail)
    files.push({
      kind: 'thumbnail',
      name: expand(spec.thumbnail.name, facts),
      rule: spec.thumbnail,
      signature: JSON.stringify([
        spec.thumbnail,
        livery.pins.template,
        template.sheets.map((sheet) => drawnFrom(livery, template, sheet.key, 'colour')),
      ]),
    });
  const view = sidecarView(
    livery,
    template,
    folder,
    slot === null ? null : { text: slot, number: target.slot },
    out.map((file) => ({ sheet: file.sheet.key, map: file.spec.map, name: file.name })),
  );
  for (const sidecar of spec.sidecars) {
    for (const of of sidecar.each ? view.sheets : [null]) {
      const sheet = of ? template.sheets.find((s) => s.key === of.key) : undefined;
      const name = expand(sidecar.name, nameFacts(livery, template, slot, sheet));
      const made = makeSidecar(
        sidecar,
        name,
        of ? { ...view, sheet: of } : view,
        facts,
        target.bases.get(folder + name)?.bytes,
      );
      files.push({ kind: 'sidecar', name, continues: sidecar.making.kind !== 'template', ...made });
    }
  }
  if (spec.readme) {
    const text = readmeOf(livery, template, spec, target.credits);
    files.push({
      kind: 'sidecar',
      name: expand(spec.readme.name, facts),
      text,
      bytes: new TextEncoder().encode(text),
      original: null,
      continues: false,
      problems: [],
    });
  }
  return { folder, files, package: spec.package ? expand(spec.package.name, facts) : null };
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

/** All that a map's picture depends on. */
function drawnFrom(livery: Livery, template: Template, sheet: string, map: string): unknown[] {
  const layers = layersOf(livery, sheet, map)
    .filter((layer) => !layer.hidden)
    .map((layer) => {
      const { id, name: _name, phase: _phase, locked: _locked, ...looks } = layer;
      const font =
        layer.kind === 'lettering' ? [fillIn(layer.text, livery.particulars), livery.pins.fonts[layer.font]] : [];
      // Others name a group by its id.
      const own = layer.kind === 'group' ? { ...looks, id } : looks;
      return [own, paintsOf(layer).map((paint) => colourOf(livery, paint)), font];
    });
  const boxes = map === 'colour' ? boxesOf(livery, template, sheet).map((box) => box.hex) : [];
  return [layers, ...(boxes.length ? [boxes] : [])];
}

function signatureOf(livery: Livery, template: Template, sheet: string, file: SpecFile): string {
  // How it is called changes nothing in it.
  const { name: _name, ...rule } = file;
  const drawn = mapsIn(file).flatMap((map) => drawnFrom(livery, template, sheet, map));
  return JSON.stringify([livery.pins.template, livery.pins.renderer, sheet, rule, ...drawn]);
}
