/** What brings the plane of a layer to the model: one schema for each kind, from its folder in projectors/. */
import { z } from 'zod';
import { along, AlongProjector } from '../projectors/along/data.ts';
import type { ProjectorData } from '../projectors/data.ts';
import { flat, FlatProjector } from '../projectors/flat/data.ts';
import { folded, FoldedProjector } from '../projectors/folded/data.ts';
import { round, RoundProjector } from '../projectors/round/data.ts';

export type { Direction, Place } from '../projectors/data.ts';

export const Projector = z.discriminatedUnion('kind', [FlatProjector, RoundProjector, AlongProjector, FoldedProjector]);
export type Projector = z.infer<typeof Projector>;
export type ProjectorKind = Projector['kind'];
export type ProjectorOf<K extends ProjectorKind> = Extract<Projector, { kind: K }>;

/** What there is to know of each kind, in the order in which they are offered. */
export const PROJECTORS: { readonly [K in ProjectorKind]: ProjectorData } = { flat, round, along, folded };
