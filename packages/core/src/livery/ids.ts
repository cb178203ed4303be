import { z } from 'zod';

/** Ids are opaque text; a brand keeps a layer's from being taken for a colour's. */
const id = <B extends string>() => z.string().min(1).max(64).brand<B>();

export const LayerId = id<'layer'>();
export type LayerId = z.infer<typeof LayerId>;
export const ColourId = id<'colour'>();
export type ColourId = z.infer<typeof ColourId>;
export const FinishId = id<'finish'>();
export type FinishId = z.infer<typeof FinishId>;
export const EditId = id<'edit'>();
export type EditId = z.infer<typeof EditId>;

/** SHA-256 of a blob, 64 lower-case hex digits. */
export const Sha256 = z
  .string()
  .regex(/^[0-9a-f]{64}$/)
  .brand<'sha256'>();
export type Sha256 = z.infer<typeof Sha256>;

export const newLayerId = (): LayerId => LayerId.parse(crypto.randomUUID());
export const newColourId = (): ColourId => ColourId.parse(crypto.randomUUID());
export const newFinishId = (): FinishId => FinishId.parse(crypto.randomUUID());
export const newEditId = (): EditId => EditId.parse(crypto.randomUUID());
