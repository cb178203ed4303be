import useSWR, { mutate } from 'swr';
import type { Me } from '@wet-lacquer/sync/people.ts';
import { onSignedOut } from '../lib/api.ts';
import { bePerson } from '../easel/person.ts';

const AT = '/me';

/** Who asks; null while that is not known. */
export function useMe(): { me: Me | null; error: unknown } {
  const { data, error } = useSWR<Me>(AT, { revalidateOnFocus: true });
  if (data) bePerson(data.painter?.id ?? null);
  return { me: data ?? null, error: error as unknown };
}

/** Somebody has signed in, or out: everything that was read is another's. */
export async function becomes(me: Me | null): Promise<void> {
  await mutate((key) => key !== AT, undefined, { revalidate: false });
  await mutate(AT, me ?? undefined, { revalidate: me === null });
}

onSignedOut(() => void mutate(AT));
