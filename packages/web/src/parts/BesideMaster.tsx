import useSWR from 'swr';
import type { BesideMasterAnswer } from '@wet-lacquer/sync/answers.ts';
import { Quiet } from './text.tsx';
import { get, sentenceOf } from '../lib/api.ts';
import { ART, INK } from '../theme.ts';
import { Notice } from './Notice.tsx';

/**
 * A sheet's follower beside its master: both as they are, and what goes out.
 * @param of address of the livery or the template, and what changes when the pictures do
 */
export function BesideMaster({
  of,
  sheet,
  follower,
  name,
}: {
  of: { path: string; state: string | number; painted: boolean };
  sheet: string;
  follower: string;
  /** What the follower is called. */
  name: string;
}) {
  const path = `${of.path}/sheets/${sheet}/followers/${follower}`;
  const { data, error } = useSWR([path, of.state], () => get<BesideMasterAnswer>(path), {
    revalidateOnFocus: false,
    keepPreviousData: true,
  });
  if (error) return <Notice level="warning">{sentenceOf(error)}</Notice>;
  const heads = of.painted
    ? ['master, painted', 'as it came', 'as it goes out']
    : ['master', 'as it came', 'master in its light'];
  return (
    <section aria-label={`${name} beside its master`}>
      <div style={{ background: ART.ground, minHeight: 80 }}>
        {data && (
          <img
            src={data.picture}
            alt={`The master, ${name} as it came, and ${of.painted ? 'as it goes out' : 'the master in its light'}`}
            style={{ width: '100%', display: 'block' }}
          />
        )}
      </div>
      <div
        style={{
          display: 'grid',
          gridTemplateColumns: '1fr 1fr 1fr',
          color: INK.quiet,
          fontSize: 12,
          margin: '2px 0 6px',
          gap: 4,
        }}
      >
        {heads.map((head) => (
          <span key={head}>{head}</span>
        ))}
      </div>
      <Quiet as="p" small>
        {data ? saysLight(data.light) : 'Drawing …'}
      </Quiet>
    </section>
  );
}

function saysLight(light: BesideMasterAnswer['light']): string {
  if (!light) return 'Paint goes on it as it is on the master.';
  const off = `${light.error.toFixed(1)} of 255 on average`;
  if (light.kind === 'unlike')
    return `No light makes the one of the other, as they came: they stay ${off} apart. Paint in it would be a guess.`;
  if (light.kind === 'same') return 'As they came, the two are the same picture.';
  return `In its light the master is ${off} from it${light.strength < 1 ? `; taken at ${Math.round(light.strength * 100)} %` : ''}.`;
}
