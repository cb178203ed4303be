import { ART } from '../../theme.ts';

/** A line that shows on any paint: a dark casing under a light core. */
export function Cased({ d, dashed }: { d: string; dashed?: boolean }) {
  return (
    <>
      <path d={d} fill="none" stroke={ART.casing} strokeWidth={3.5} strokeOpacity={0.75} />
      <path d={d} fill="none" stroke={ART.chosen} strokeWidth={1.5} strokeDasharray={dashed ? '5 4' : undefined} />
    </>
  );
}
