import type { z } from 'zod';
import { InputError } from '../../errors.ts';
import type { SingleEdit } from '../edit.ts';
import type { LayerId } from '../ids.ts';
import type { Livery } from '../livery.ts';

/** What an edit aims at is no longer there: the edit is set aside and shown, never dropped. */
export class TargetGone extends InputError {
  override name = 'TargetGone';
}

/** A livery after an edit, and the edit that takes it back. */
export interface Applied {
  livery: Livery;
  inverse: SingleEdit;
}

/** What is chosen now: what a step is for whose own target is gone. */
export interface Aim {
  layer: LayerId | null;
  sheet: string;
  map: string;
}

/** All that there is to know of one kind of edit. */
export interface EditKind<T extends { do: string }> {
  schema: z.ZodType<T>;
  /**
   * Pure: the given livery is not changed, and unchanged branches are shared with the result.
   * @throws TargetGone when its target is not there; InputError when the result would not be a livery
   */
  apply(livery: Livery, edit: T): Applied;
  /** SHA-256 of everything stored tile by tile that it brings in. */
  stored(edit: T): string[];
  /** What it also does to the other sheets over which its layer runs. */
  spread(livery: Livery, edit: T): SingleEdit[];
  /** The same for what is chosen, where its own target is gone or its id is taken; null: it can mean nothing else. */
  reaim(livery: Livery, edit: T, aim: Aim): T | null;
  /** The step in a few words. @param livery before it */
  reads(livery: Livery, edit: T): string;
}

/** For edits that bring nothing that is stored tile by tile. */
export const nothingStored = (): string[] => [];
/** For edits of what lies on one sheet alone, or on none. */
export const staysHere = (): SingleEdit[] => [];
