/** What somebody else's game shows of one's skins: it has its own folder, and shows what lies there under the same name with the same bytes. */

export interface FolderFile {
  name: string;
  /** SHA-256. */
  hash: string;
}

/**
 * Of the files in one's folder, those that somebody else's game has as well.
 * @param mine all files of one's own folder @param ofSkins paths that skins were put at; everything else comes with the game
 * @param continued those of them that list or hold several skins: everybody has one of their own, which names whatever they put in
 * @param theirs SHA-256 by path of what they put in
 */
export function seenBy<F extends FolderFile>(
  mine: readonly F[],
  ofSkins: ReadonlySet<string>,
  continued: ReadonlySet<string>,
  theirs: ReadonlyMap<string, string>,
): F[] {
  return mine.filter(({ name, hash }) => !ofSkins.has(name) || continued.has(name) || theirs.get(name) === hash);
}
