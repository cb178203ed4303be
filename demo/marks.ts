/** The demo world's marks: our own drawings, see marks/. */
import { readFileSync } from 'node:fs';

export interface Mark {
  file: string;
  name: string;
  tags: string[];
  ratio: number;
}

export const MARKS: readonly Mark[] = [
  { file: 'tern-roundel.svg', name: 'Tern roundel', tags: ['Tern & Tide Post', 'emblem'], ratio: 1 },
  { file: 'ebbline-crest.svg', name: 'Ebbline crest', tags: ['Ebbline Freight', 'emblem'], ratio: 300 / 220 },
  { file: 'lanternfish.svg', name: 'Lanternfish', tags: ['Lanternfish Rescue', 'emblem'], ratio: 320 / 220 },
  { file: 'saltglass.svg', name: 'Saltglass bottle', tags: ['Saltglass Works', 'sponsor'], ratio: 160 / 220 },
  { file: 'quillback.svg', name: 'Quillback', tags: ['Quillback Rope Co.', 'sponsor'], ratio: 240 / 160 },
  { file: 'oakum.svg', name: 'Oakum barrel', tags: ['Oakum & Pitch', 'sponsor'], ratio: 1 },
];

export const markBytes = (file: string) => new Uint8Array(readFileSync(new URL(`marks/${file}`, import.meta.url)));
