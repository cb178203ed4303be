/** Folders of files, for tests of what was delivered into them. */
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';

/** SHA-256 of a file. */
export const hashOfFile = (file: string): string => createHash('sha256').update(readFileSync(file)).digest('hex');

/** All files below a folder, as paths from it, in order. */
export const filesBelow = (folder: string): string[] =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => path.relative(folder, path.join(entry.parentPath, entry.name)))
    .sort();
