import { layersOf, type Livery } from '../livery/livery.ts';
import { paintsOf } from '../livery/layer.ts';
import { colourOf, fillIn } from '../livery/livery.ts';
import type { Template, TemplateSheet } from '../livery/template.ts';
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
  sheet: TemplateSheet;
  spec: SpecFile;
  mips: number;
  /** Size of the finished file. Zero for kinds whose size is only known afterwards. */
  bytes: number;
  /** Why it is not delivered; null: it is. */
  leftOut: 'bare' | 'kept' | null;
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

/** Everything that would be written, with its names as they will be. Pure: nothing is drawn for it. */
export function planDelivery(livery: Livery, template: Template, spec: DeliverySpec): DeliveryPlan {
  const files: PlannedFile[] = [];
  for (const sheet of template.sheets) {
    const state = livery.sheets.find((s) => s.key === sheet.key);
    for (const file of spec.files) {
      if (file.sheets && !file.sheets.includes(sheet.key)) continue;
      const leftOut = state?.kept ? 'kept' : isBare(livery, sheet.key, file.map) ? 'bare' : null;
      const mips = file.mips === 'full' ? fullMipCount(sheet.width, sheet.height) : 1;
      files.push({
        kind: 'sheet',
        name: expand(file.name, nameFacts(livery, template, sheet.key)),
        pattern: file.name,
        sheet,
        spec: file,
        mips,
        bytes: file.container === 'dds' ? ddsBytes(sheet, file, mips) : 0,
        leftOut,
        signature: leftOut ?? signatureOf(livery, sheet.key, file),
      });
    }
  }
  const delivered = files.flatMap((file) => (file.kind === 'sheet' && !file.leftOut ? [file.sheet.key] : []));
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

function signatureOf(livery: Livery, sheet: string, file: SpecFile): string {
  const layers = layersOf(livery, sheet, file.map)
    .filter((layer) => !layer.hidden)
    .map((layer) => {
      const { id: _id, name: _name, phase: _phase, locked: _locked, ...looks } = layer;
      const font =
        layer.kind === 'lettering' ? [fillIn(layer.text, livery.particulars), livery.pins.fonts[layer.font]] : [];
      return [looks, paintsOf(layer).map((paint) => colourOf(livery, paint)), font];
    });
  return JSON.stringify([livery.pins.template, livery.pins.renderer, file, layers]);
}
