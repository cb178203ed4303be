import { Area, AreaChart, ReferenceLine, XAxis, YAxis } from 'recharts';
import { INK } from '../../theme.ts';
import type { LayerTones } from '../../workers/messages.ts';

const COLOURS = { all: INK.quiet, red: '#c9584a', green: '#3f8f4c', blue: '#5b82c4' } as const;

/** How often each value of a channel comes up, with the ends that are set. */
export function Histogram({
  tones,
  channel,
  black,
  white,
}: {
  tones: LayerTones;
  channel: keyof typeof COLOURS;
  black: number;
  white: number;
}) {
  const counts = tones.histogram[channel];
  const most = Math.max(1, ...counts);
  const data = Array.from(counts, (count, value) => ({ value, height: Math.sqrt(count / most) }));
  return (
    <div role="img" aria-label={`How often each value comes up, ${channel === 'all' ? 'all channels' : channel}`}>
      <AreaChart width={204} height={62} data={data} margin={{ top: 2, right: 0, bottom: 0, left: 0 }}>
        <XAxis dataKey="value" type="number" domain={[0, 255]} hide />
        <YAxis domain={[0, 1]} hide />
        <Area
          dataKey="height"
          type="step"
          stroke={COLOURS[channel]}
          fill={COLOURS[channel]}
          fillOpacity={0.5}
          isAnimationActive={false}
        />
        <ReferenceLine x={black} stroke={INK.text} />
        <ReferenceLine x={white} stroke={INK.text} />
      </AreaChart>
    </div>
  );
}
