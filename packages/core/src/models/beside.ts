/** Files that a model names, found among those that came with it. */
import { baseOf, stemOf } from '../paths.ts';

/**
 * The file of a folder that a model means by a path.
 * @param names all files, by their paths
 * @param model the model's own
 * @param path as the model writes it, from its folder
 * @param likely also one of the same name with another ending: pictures are often stored anew
 */
export function fileBeside(names: readonly string[], model: string, path: string, likely = false): string | null {
  const inside = `${model}/${path}`;
  if (names.includes(inside)) return inside;
  const folder = model.slice(0, model.lastIndexOf('/') + 1);
  const wanted = plainPath(folder + path);
  const same = (other: (name: string) => string, of: string) => {
    const found = names.filter((name) => name !== model && other(name) === of);
    return found.length === 1 ? found[0] : null;
  };
  const low = (text: string) => text.toLowerCase();
  return (
    same((name) => name, wanted) ??
    same(low, low(wanted)) ??
    same((name) => low(baseOf(name)), low(baseOf(wanted))) ??
    (likely ? same((name) => low(stemOf(name)), low(stemOf(wanted))) : null)
  );
}

/** Those of some paths that are there, with the file that each means. */
export const filesNamedBy = (
  names: readonly string[],
  model: string,
  paths: readonly string[],
): { path: string; name: string }[] =>
  paths.flatMap((path) => {
    const name = fileBeside(names, model, path);
    return name === null ? [] : [{ path, name }];
  });

/** Without `.`, `..` and doubled `/`. */
function plainPath(path: string): string {
  const out: string[] = [];
  for (const part of path.split('/')) {
    if (part === '..') out.pop();
    else if (part !== '' && part !== '.') out.push(part);
  }
  return out.join('/');
}
