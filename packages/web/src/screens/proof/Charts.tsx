import { Bar, BarChart, CartesianGrid, Line, LineChart, Tooltip, XAxis, YAxis } from 'recharts';
import { memo, type ReactNode } from 'react';
import { FORMATS } from '@wet-lacquer/core/texture/formats/index.ts';
import { size } from '../../lib/words.ts';
import { INK } from '../../theme.ts';
import { useProof } from './proofState.ts';

/** First and second encoding: told apart by dash and by lightness, and named in the legend. */
const LOOKS = [
  { colour: INK.text, dash: undefined },
  { colour: INK.edge, dash: '5 4' },
] as const;
const AXIS = { stroke: INK.quiet, tick: { fontSize: 11, fill: INK.quiet }, tickLine: false } as const;
const TIP = {
  contentStyle: { background: INK.raised, border: `1px solid ${INK.edge}`, fontSize: 12 },
  labelFormatter: (label: unknown) => `level ${String(label)}`,
  isAnimationActive: false,
  cursor: { fill: INK.raised, stroke: INK.edge },
} as const;

interface Row {
  level: number;
  [value: string]: number;
}

/** By mip level: PSNR, the share of blocks that differ visibly, and the size in the file. Drawn again when a level is finished, not before. */
export function Charts({ width }: { width: number }) {
  const finished = useProof(({ news }) => {
    const rows: Row[] = (news?.levels ?? []).map((_, level) => ({ level }));
    news?.trials.forEach((trial, t) =>
      trial.levels.forEach((facts, level) => {
        if (facts.done < facts.of || !rows[level]) return;
        rows[level][`psnr${t}`] = Number(Math.min(60, facts.psnr).toFixed(2));
        rows[level][`visible${t}`] = Number((facts.visible * 100).toFixed(2));
        rows[level][`bytes${t}`] = facts.bytes;
      }),
    );
    return JSON.stringify({ rows, names: (news?.trials ?? []).map((trial) => FORMATS[trial.format].name) });
  });
  return <Drawn finished={finished} width={width} />;
}

const Drawn = memo(function Drawn({ finished, width }: { finished: string; width: number }) {
  const { rows, names } = JSON.parse(finished) as { rows: Row[]; names: string[] };
  const each = Math.max(150, Math.floor((width - 24) / 3));
  const lines = (what: string, unit: string) =>
    names.map((_, t) => (
      <Line
        key={t}
        dataKey={`${what}${t}`}
        name={`${names[t]}, ${unit}`}
        stroke={LOOKS[t].colour}
        strokeDasharray={LOOKS[t].dash}
        dot={{ r: 2, strokeDasharray: '0', fill: LOOKS[t].colour }}
        isAnimationActive={false}
      />
    ));
  const grid = <CartesianGrid stroke={INK.line} vertical={false} />;
  return (
    <section
      aria-label="Charts by mip level"
      style={{
        height: 176,
        flex: 'none',
        display: 'flex',
        gap: 8,
        padding: '6px 8px',
        background: INK.panel,
        borderTop: `1px solid ${INK.line}`,
        overflowX: 'auto',
        overflowY: 'hidden',
      }}
    >
      <Chart title="PSNR in dB, up to 60" legend={names}>
        <LineChart width={each} height={136} data={rows} margin={{ top: 4, right: 8, bottom: 0, left: -22 }}>
          {grid}
          <XAxis dataKey="level" {...AXIS} />
          <YAxis domain={[(low: number) => Math.max(0, Math.floor(low / 5) * 5 - 5), 60]} {...AXIS} />
          <Tooltip {...TIP} />
          {lines('psnr', 'dB')}
        </LineChart>
      </Chart>
      <Chart title="Blocks that differ visibly, %" legend={names}>
        <LineChart width={each} height={136} data={rows} margin={{ top: 4, right: 8, bottom: 0, left: -22 }}>
          {grid}
          <XAxis dataKey="level" {...AXIS} />
          <YAxis domain={[0, (high: number) => Math.max(1, Math.ceil(high))]} {...AXIS} />
          <Tooltip {...TIP} />
          {lines('visible', '%')}
        </LineChart>
      </Chart>
      <Chart title="Size in the file" legend={names}>
        <BarChart width={each} height={136} data={rows} margin={{ top: 4, right: 8, bottom: 0, left: -4 }}>
          {grid}
          <XAxis dataKey="level" {...AXIS} />
          <YAxis tickFormatter={(v: number) => size(v).replace('.0', '')} width={58} {...AXIS} />
          <Tooltip {...TIP} formatter={(value) => size(Number(value))} />
          {names.map((_, t) => (
            <Bar key={t} dataKey={`bytes${t}`} name={names[t]} fill={LOOKS[t].colour} isAnimationActive={false} />
          ))}
        </BarChart>
      </Chart>
    </section>
  );
});

function Chart({ title, legend, children }: { title: string; legend: string[]; children: ReactNode }) {
  return (
    <figure style={{ margin: 0, flex: 'none' }}>
      <figcaption style={{ fontSize: 12, color: INK.quiet, display: 'flex', gap: 10, whiteSpace: 'nowrap' }}>
        {title}
        {legend.length > 1 &&
          legend.map((name, t) => (
            <span key={t} style={{ color: LOOKS[t].colour }}>
              {t === 0 ? '—' : '- -'} {name}
            </span>
          ))}
      </figcaption>
      {children}
    </figure>
  );
}
