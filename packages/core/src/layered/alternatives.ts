/** Groups of a layered file of which one member is meant to be seen. */
import type { LayeredGroup, LayeredNode } from './layered.ts';

/** Common practice, no source: what authors call such groups. */
const CHOICE =
  /^(options?|variants?|variations?|alternatives?|alternates?|alts?|choose|choice|pick|select|schemes?|patterns?|versions?|either)$/;
/** Members that lie so much on one another show the same place. */
const SAME_PLACE = 0.5;
/** Alpha up to this is no paint. */
const CLEAR = 8;

/** Whether a group holds alternatives: at most one of its members is seen, and they lie in one place or the group says so. */
export function isChoice(group: LayeredGroup): boolean {
  const members = group.nodes.filter((node) => !node.clipped);
  if (members.length < 2 || members.filter(({ hidden }) => !hidden).length > 1) return false;
  if (
    group.name
      .toLowerCase()
      .split(/[^a-z]+/)
      .some((word) => CHOICE.test(word))
  )
    return true;
  const boxes = members.map(boxOf).filter((box) => box !== null);
  if (boxes.length < 2) return false;
  return boxes.slice(1).every((box) => alike(boxes[0], box));
}

interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** Where a node has paint; null: nowhere. */
function boxOf(node: LayeredNode): Box | null {
  if (node.kind === 'layer') {
    if (!node.image) return null;
    const { width, height, data } = node.image;
    let [left, right, top, bottom] = [width, 0, height, 0];
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        if (data[(y * width + x) * 4 + 3] <= CLEAR) continue;
        if (x < left) left = x;
        if (x >= right) right = x + 1;
        if (y < top) top = y;
        bottom = y + 1;
      }
    return right > 0
      ? { left: node.x + left, top: node.y + top, right: node.x + right, bottom: node.y + bottom }
      : null;
  }
  const inside = node.nodes.map(boxOf).filter((box) => box !== null);
  if (inside.length === 0) return null;
  return {
    left: Math.min(...inside.map(({ left }) => left)),
    top: Math.min(...inside.map(({ top }) => top)),
    right: Math.max(...inside.map(({ right }) => right)),
    bottom: Math.max(...inside.map(({ bottom }) => bottom)),
  };
}

/** Share of their common area in all that both cover. */
function alike(a: Box, b: Box): boolean {
  const area = (box: Box) => Math.max(0, box.right - box.left) * Math.max(0, box.bottom - box.top);
  const both = area({
    left: Math.max(a.left, b.left),
    top: Math.max(a.top, b.top),
    right: Math.min(a.right, b.right),
    bottom: Math.min(a.bottom, b.bottom),
  });
  return both > 0 && both / (area(a) + area(b) - both) >= SAME_PLACE;
}
