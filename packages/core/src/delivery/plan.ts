import { layersOf, type Livery } from '../livery/livery.ts';
import { boxesOf } from '../livery/boxes.ts';
import { paintsOf, type Layer } from '../livery/layer.ts';
import { colourOf, fillIn } from '../livery/livery.ts';
import { beginningOf, type Follower, type Template, type TemplateSheet } from '../livery/template.ts';
import { FORMATS, rowBytes, rowsOf } from '../texture/formats.ts';
import { fullMipCount, mipSize } from '../texture/mips.ts';
import { expand, nameFacts } from './names.ts';
import { finishToml } from './sidecar.ts';
import type { DeliverySpec, SpecFile } from '../livery/spec.ts';

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
  mips: number;
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
}

export type PlannedFile = PlannedSheet | PlannedSidecar;

export interface DeliveryPlan {
  /** With a slash at the end, inside the game's folder. */
  folder: string;
  files: PlannedFile[];
}

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

/** Everything that would be written, with its names as they will be. Pure: nothing is drawn for it. */
export function planDelivery(livery: Livery, template: Template, spec: DeliverySpec): DeliveryPlan {
  const files: PlannedFile[] = [];
  for (const master of template.sheets) {
    const state = livery.sheets.find((s) => s.key === master.key);
    for (const file of spec.files) {
      if (file.sheets && !file.sheets.includes(master.key)) continue;
      if (!state?.maps.some((map) => map.key === file.map)) continue;
      const leftOut: PlannedSheet['leftOut'] = state.kept
        ? 'kept'
        : isBare(livery, master.key, file.map)
          ? 'bare'
          : file.map !== 'colour' && isOriginal(livery, template, master.key, file.map)
            ? 'original'
            : null;
      const signature = leftOut ?? signatureOf(livery, template, master.key, file);
      const mips = (sheet: TemplateSheet) => (file.mips === 'full' ? fullMipCount(sheet.width, sheet.height) : 1);
      const own = file.size ? { ...master, ...file.size } : master;
      const common = { kind: 'sheet' as const, spec: file, master, leftOut };
      const bytes = (sheet: TemplateSheet) => (file.container === 'dds' ? ddsBytes(sheet, file, mips(sheet)) : 0);
      files.push({
        ...common,
        name: expand(file.name, nameFacts(livery, template, master.key)),
        pattern: file.name,
        sheet: own,
        follower: null,
        mirror: 'none',
        mips: mips(own),
        bytes: bytes(own),
        signature,
      });
      if (file.map !== 'colour') continue;
      for (const follower of master.followers ?? []) {
        const { key, name, width, height, mirror, stem } = follower;
        const sheet = { ...master, key, name, width, height };
        const pattern = stem === null ? file.name : `${stem}.${file.container}`;
        files.push({
          ...common,
          name: expand(pattern, nameFacts(livery, template, key)),
          pattern,
          sheet,
          follower: key,
          mirror,
          mips: mips(sheet),
          bytes: bytes(sheet),
          signature: leftOut ?? JSON.stringify([signature, width, height, mirror]),
        });
      }
    }
  }
  const delivered = files.flatMap((file) =>
    file.kind === 'sheet' && !file.leftOut && !file.follower && file.spec.map === 'colour' ? [file.sheet.key] : [],
  );
  for (const sidecar of spec.sidecars)
    files.push({ kind: 'sidecar', name: sidecar.name, text: finishToml(livery, template, delivered) });
  return { folder: expand(spec.folder, nameFacts(livery, template)), files };
}

function ddsBytes(sheet: TemplateSheet, file: SpecFile, mips: number): number {
  let bytes = file.header === 'dx10' ? 148 : 128;
  for (let level = 0; level < mips; level++) {
    const size = mipSize(sheet.width, sheet.height, level);
    bytes += rowsOf(FORMATS[file.format], size.height) * rowBytes(FORMATS[file.format], size.width);
  }
  return bytes;
}

function signatureOf(livery: Livery, template: Template, sheet: string, file: SpecFile): string {
  const layers = layersOf(livery, sheet, file.map)
    .filter((layer) => !layer.hidden)
    .map((layer) => {
      const { id, name: _name, phase: _phase, locked: _locked, ...looks } = layer;
      const font =
        layer.kind === 'lettering' ? [fillIn(layer.text, livery.particulars), livery.pins.fonts[layer.font]] : [];
      // Others name a group by its id.
      const own = layer.kind === 'group' ? { ...looks, id } : looks;
      return [own, paintsOf(layer).map((paint) => colourOf(livery, paint)), font];
    });
  const boxes = file.map === 'colour' ? boxesOf(livery, template, sheet).map((box) => box.hex) : [];
  return JSON.stringify([livery.pins.template, livery.pins.renderer, file, layers, ...(boxes.length ? [boxes] : [])]);
}
