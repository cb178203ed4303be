/** Textures that a template is begun with, read and packed before it is made, so that all threads can share the work. */
import type { Decisions, TextureFacts } from '@wet-lacquer/core/intake/understood.ts';
import type { Sha256 } from '@wet-lacquer/core/livery/ids.ts';

/** A finished texture, decoded and packed. */
export interface ReadyTexture {
  facts: TextureFacts;
  /** Stored pixels, upright, and their SHA-256. */
  bytes: Uint8Array;
  blob: Sha256;
}

/** The textures that a template is begun with, each with how it is stored. */
export const texturesOf = ({ sheets }: Pick<Decisions, 'sheets'>): { name: string; upsideDown: boolean }[] =>
  sheets.flatMap(({ colour, maps, upsideDown }) =>
    [colour, ...maps.map(({ file }) => file)].flatMap((name) => (name === null ? [] : [{ name, upsideDown }])),
  );

/** Names a texture that was packed beforehand. */
export const readyKey = (name: string, upsideDown: boolean): string => `${upsideDown ? 'turned' : 'as it is'} ${name}`;
