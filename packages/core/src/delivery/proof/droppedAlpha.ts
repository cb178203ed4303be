import { FORMATS } from '../../texture/formats/index.ts';
import type { ProofFinding, ProofInput } from './finding.ts';

/** Alpha that says something, in a format that keeps none of it or one bit. */
export function droppedAlpha({ encoded, painted }: ProofInput): ProofFinding[] {
  const format = FORMATS[encoded.format];
  if (format.alpha === 'full') return [];
  const { data, width } = painted;
  let [lost, first] = [0, -1];
  for (let i = 3; i < data.length; i += 4) {
    if (data[i] === encoded.decoded.data[i]) continue;
    lost++;
    if (first < 0) first = i >> 2;
  }
  if (lost === 0) return [];
  const [x, y] = [first % width, Math.floor(first / width)];
  const share = (lost * 100) / (data.length / 4);
  return [
    {
      key: 'alpha',
      title: `${format.name} drops ${format.alpha === 'bit' ? 'soft ' : ''}alpha`,
      detail: `${share < 0.1 ? 'Under 0.1' : share.toFixed(1)} % of the texels are see-through as painted and will not be so in the game.`,
      show: { left: x - 32, top: y - 32, right: x + 32, bottom: y + 32 },
      fixes: [{ label: 'Try BC7', format: 'bc7' }],
    },
  ];
}
