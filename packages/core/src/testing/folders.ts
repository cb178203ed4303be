/** Folders of textures whose kinds are known, and what is guessed of them. */
import { createHash } from 'node:crypto';
import { guessRoles, type FileRole, type FolderTexture } from '../intake/fileRoles.ts';
import { lookOfTexture } from '../intake/textureLook.ts';
import type { Image8 } from '../raster/image.ts';

/** A file as guesses take it. */
export const folderTexture = (name: string, image: Image8): FolderTexture => ({
  name,
  width: image.width,
  height: image.height,
  hash: createHash('sha256').update(image.data).digest('hex'),
  look: lookOfTexture(image),
});

/** Guesses folder by folder. @returns a line for every file that is taken for another kind, and all reasons */
export function guessFolders(files: readonly (readonly [name: string, role: FileRole, image: Image8])[]) {
  const wrong: string[] = [];
  const reasons: string[] = [];
  for (const folder of new Set(files.map(([name]) => name.split('/')[0]))) {
    const own = files.filter(([name]) => name.startsWith(`${folder}/`));
    const guesses = guessRoles(own.map(([name, , image]) => folderTexture(name, image)));
    for (const [name, role] of own) {
      const guess = guesses.get(name)!;
      reasons.push(guess.reason);
      if (guess.role !== role) wrong.push(`${name}: ${guess.role}, not ${role} (${guess.reason})`);
    }
  }
  return { wrong, reasons };
}
