/** Which way up textures are stored, as far as a model's islands tell. */
import { wayUp } from '../surface/wayUp.ts';
import type { FolderTexture } from './fileRoles.ts';
import { lookOfFacts } from './lookOfFacts.ts';
import { type Understood } from './understood.ts';

/** Which way up a texture is stored, by the material whose islands say so. */
export type Ways = Record<string, 'upright' | 'upside-down'>;

interface Looked {
  readonly name: string;
  /** SHA-256 of its bytes. */
  readonly blob: string;
  readonly understood: Understood | null;
}

/** For each texture the materials of the models whose layout tells which way up it is. */
export function waysOf(files: readonly Looked[]): Map<string, Ways> {
  const covers = files.flatMap(({ understood }) =>
    understood?.kind === 'model' ? Object.entries(understood.covers ?? {}) : [],
  );
  const layouts = covers.map(([material, cells]) => [material, [...cells].map((cell) => cell === '1')] as const);
  return new Map(
    files.flatMap(({ name, understood }) => {
      if (understood?.kind !== 'texture' || !understood.detail) return [];
      const { detail } = understood;
      const told = layouts.flatMap(([material, cover]) => {
        const way = wayUp(detail, cover);
        return way ? [[material, way] as const] : [];
      });
      return [[name, Object.fromEntries(told)] as const];
    }),
  );
}

/** A texture as guesses take it; nothing for other files. */
export function asTexture({ name, blob, understood }: Looked): FolderTexture[] {
  if (understood?.kind !== 'texture') return [];
  const { width, height } = understood;
  return [{ name, width, height, hash: blob, look: lookOfFacts(understood) }];
}
