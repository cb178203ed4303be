import { FORMATS } from '../../texture/formats/index.ts';
import { eachBlock, layersAt, type ProofFinding, type ProofInput } from './finding.ts';

/** Mean offset of a block, in 255ths, from which neighbouring blocks of a smooth fade part visibly. */
const STEP = 1.2;

/** Smooth ground that the format breaks into blocks: in smooth blocks the mean itself is off, now up, now down. */
export function bandedFades(input: ProofInput): ProofFinding[] {
  const { encoded, painted } = input;
  const { width, data } = painted;
  return layersAt(input, 'fade').flatMap(({ layer, box }) => {
    let [smooth, off] = [0, 0];
    let show: ProofFinding['show'];
    eachBlock(encoded, box, (_block, bx, by) => {
      const sums = [0, 0, 0];
      const [low, high] = [
        [255, 255, 255],
        [0, 0, 0],
      ];
      for (let y = by * 4; y < Math.min(painted.height, by * 4 + 4); y++) {
        for (let x = bx * 4; x < Math.min(width, bx * 4 + 4); x++) {
          for (let c = 0; c < 3; c++) {
            const i = (y * width + x) * 4 + c;
            sums[c] += encoded.decoded.data[i] - data[i];
            low[c] = Math.min(low[c], data[i]);
            high[c] = Math.max(high[c], data[i]);
          }
        }
      }
      const range = Math.max(...high.map((h, c) => h - low[c]));
      if (range === 0 || range > 8) return;
      smooth++;
      if (Math.max(...sums.map((s) => Math.abs(s) / 16)) < STEP) return;
      off++;
      show ??= { left: bx * 4 - 60, top: by * 4 - 60, right: bx * 4 + 64, bottom: by * 4 + 64 };
    });
    if (smooth < 64 || off < smooth * 0.1) return [];
    return [
      {
        key: `fade ${layer.id}`,
        title: `“${layer.name}” will band in ${FORMATS[encoded.format].name}`,
        detail: `${Math.round((off * 100) / smooth)} % of its smooth blocks come out more than ${STEP} of 255 too light or too dark as a whole. The fade is dithered already; only a format with finer ends helps.`,
        show,
        fixes: [{ label: 'Try BC7', format: 'bc7' as const }],
      },
    ];
  });
}
