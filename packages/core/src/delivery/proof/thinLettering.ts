import { FORMATS, isCoarse } from '../../texture/formats/index.ts';
import { VISIBLE, type EncodedLevel } from './encodedLevel.ts';
import type { Box } from '../../layers/kind.ts';
import { eachBlock, layersAt, type ProofFinding, type ProofInput } from './finding.ts';

/** What the blocks about a mark lose: how many differ at all and how many visibly, and the worst of them with its CIEDE2000. */
export function fringesOf(encoded: EncodedLevel, box: Box) {
  let [bad, edges, worst, at] = [0, 0, 0, 0];
  eachBlock(encoded, box, (block) => {
    if (encoded.deltaE[block] > 0.3) edges++;
    if (encoded.deltaE[block] >= VISIBLE) bad++;
    if (encoded.deltaE[block] > worst) [worst, at] = [encoded.deltaE[block], block];
  });
  return { many: bad >= 8 && bad >= edges * 0.15, bad, worst, at };
}

/** Lettering and decals whose edges the format smears: saturated thin strokes share a block with two other colours. */
export function thinLettering(input: ProofInput): ProofFinding[] {
  const { encoded } = input;
  if (!isCoarse(encoded.format)) return [];
  return layersAt(input, 'lettering', 'decal').flatMap(({ layer, box }) => {
    const { many, bad, worst, at } = fringesOf(encoded, box);
    if (!many) return [];
    const [x, y] = [(at % encoded.columns) * 4, Math.floor(at / encoded.columns) * 4];
    return [
      {
        key: `lettering ${layer.id}`,
        title: `“${layer.name}” gets fringes in ${FORMATS[encoded.format].name}`,
        detail: `${bad} blocks along its edges differ visibly, most at ${x}, ${y}, by up to ${worst.toFixed(1)} CIEDE2000: each holds two 5-6-5 colours and their mixes.`,
        show: { left: x - 40, top: y - 40, right: x + 44, bottom: y + 44 },
        fixes: [
          { label: 'Try BC7', format: 'bc7' as const },
          ...(layer.locked ? [] : [{ label: 'Nudge to the block grid', nudge: layer.id }]),
        ],
      },
    ];
  });
}
