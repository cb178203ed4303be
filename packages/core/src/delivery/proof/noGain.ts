import { FORMATS } from '../../texture/formats/index.ts';
import type { ProofFinding, ProofInput } from './finding.ts';

/** A sheet that would look the same in BC1, at half the size. */
export function noGain({ encoded, small }: ProofInput): ProofFinding[] {
  if (!small) return [];
  const [now, then] = [encoded.facts(), small.facts()];
  if (then.visible > 0.0005 || then.psnr < 42) return [];
  return [
    {
      key: 'no gain',
      title: `BC1 would look the same as ${FORMATS[encoded.format].name}`,
      detail: `In BC1 ${then.visible === 0 ? 'no block' : 'hardly a block'} differs visibly (${then.psnr === Infinity ? 'equal' : `${then.psnr.toFixed(1)} dB`}), at ${Math.round((then.bytes * 100) / now.bytes)} % of the size.`,
      fixes: [{ label: 'Try BC1', format: 'bc1' }],
    },
  ];
}
