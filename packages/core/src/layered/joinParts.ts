import { nodesIn, type LayeredFile, type LayeredNode } from './layered.ts';

/** One file out of its parts: the same tree in each, the pixels in one of them. */
export function joinParts(parts: readonly LayeredFile[]): LayeredFile {
  const trees = parts.map((part) => nodesIn(part.nodes).map(({ node }) => node));
  let at = 0;
  const join = (nodes: readonly LayeredNode[]): LayeredNode[] =>
    nodes.map((node) => {
      const here = trees[at % parts.length][at];
      at++;
      return node.kind === 'group' ? { ...(here as typeof node), nodes: join(node.nodes) } : here;
    });
  const nodes = join(parts[0].nodes);
  // Each part tells of its own layers; together they stand in the order of the layers again.
  const told = parts.map((part) => [...part.losses]);
  const losses = nodesIn(nodes).flatMap(({ node }, i) => {
    const own = told[i % parts.length];
    const end = own.findIndex((loss) => loss.layer !== node.name);
    return own.splice(0, end < 0 ? own.length : end);
  });
  return { ...parts[0], nodes, losses: [...losses, ...told.flat()] };
}
