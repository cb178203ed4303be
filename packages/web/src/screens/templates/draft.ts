/** What a template will be, while the painter settles it. */
import type { FileRole } from '@wet-lacquer/core/intake/fileRoles.ts';
import type { Decisions } from '@wet-lacquer/core/intake/understood.ts';
import { baseOf } from '@wet-lacquer/core/paths.ts';

export interface Draft extends Decisions {
  /** Roles that the painter gave to files. */
  files: Record<string, FileRole>;
}

/** The value of a choice that stands for nothing. */
export const NONE = '-';

/** Maps that a sheet can have beside its colour. */
export const MAPS = ['normal', 'packed', 'roughness', 'metal', 'occlusion', 'specular', 'height', 'mask', 'night'];

/** Files as a choice, and what none of them is called. */
export const pick = (names: readonly string[], none: string) => [
  { value: NONE, label: none },
  ...names.map((name) => ({ value: name, label: baseOf(name) })),
];
