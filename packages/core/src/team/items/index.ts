/** Every kind of thing that the liveries of a team share. A new one is a file of its own and a line here. */
import { colour } from './colour.ts';
import { finish } from './finish.ts';
import type { ItemKind } from './kind.ts';
import { lettering } from './lettering.ts';
import { mark } from './mark.ts';
import { particular } from './particular.ts';

export const ITEMS = { colour, finish, mark, lettering, particular } as const;
export type ItemKey = keyof typeof ITEMS;
export const ITEM_KEYS = Object.keys(ITEMS) as ItemKey[];

/** A kind, with values of whatever it has. */
export const kindOf = (key: ItemKey): ItemKind<unknown> => ITEMS[key] as ItemKind<unknown>;
