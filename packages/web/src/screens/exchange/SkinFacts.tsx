import type { ListingAnswer } from '@wet-lacquer/sync/exchange.ts';
import { count, dateInWords, size } from '../../lib/words.ts';
import { PlainList } from '../../parts/layout.tsx';
import { Heading, Mono, Quiet } from '../../parts/text.tsx';

/** Its terms, who has it, its files and versions. */
export function SkinFacts({ skin }: { skin: ListingAnswer }) {
  const bytes = skin.files.reduce((sum, file) => sum + file.bytes, 0);
  return (
    <>
      <section aria-label="Terms">
        <Heading as="h2">What others may do</Heading>
        <p style={{ margin: '4px 0' }}>{skin.terms}</p>
        <Quiet as="p">
          {skin.adapt ? 'Others may go on from it with a livery of their own.' : 'The livery itself does not go along.'}
        </Quiet>
        {skin.after && (
          <Quiet as="p">
            It goes on from {skin.after.name} by {skin.after.by}: {skin.after.licence}
          </Quiet>
        )}
        {skin.credits.map(({ name, origin, licence }) => (
          <Quiet as="p" key={`${name} ${origin}`} small>
            {name}: {origin}, {licence}
          </Quiet>
        ))}
      </section>
      <section aria-label="Who has it">
        <Heading as="h2">Who has it</Heading>
        {skin.friends.length === 0 ? (
          <Quiet as="p">Nobody has said so yet. Others see it only with the same files in their own game.</Quiet>
        ) : (
          <PlainList>
            {skin.friends.map(({ who, version }) => (
              <li key={who}>
                {who} <Quiet>version {version}</Quiet>
              </li>
            ))}
          </PlainList>
        )}
      </section>
      <details>
        <summary style={{ cursor: 'pointer' }}>
          {count(skin.files.length, 'file')}, {size(bytes)}
        </summary>
        <PlainList gap={4}>
          {skin.files.map(({ name, what, bytes: own }) => (
            <li key={name} style={{ overflowWrap: 'anywhere' }}>
              <Mono small>{name}</Mono> <Quiet small>{[what, size(own)].filter(Boolean).join(', ')}</Quiet>
            </li>
          ))}
        </PlainList>
      </details>
      <details>
        <summary style={{ cursor: 'pointer' }}>{count(skin.versions.length, 'version')}</summary>
        <PlainList gap={4}>
          {skin.versions.map(({ version, news, createdAt }) => (
            <li key={version}>
              {version} <Quiet>{dateInWords(createdAt)}</Quiet> {news}
            </li>
          ))}
        </PlainList>
      </details>
    </>
  );
}
