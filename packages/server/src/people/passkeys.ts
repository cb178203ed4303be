/** Keys of devices (Web Authentication, W3C, Level 3), through SimpleWebAuthn. */
import {
  generateAuthenticationOptions,
  generateRegistrationOptions,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
  type AuthenticationResponseJSON,
  type RegistrationResponseJSON,
} from '@simplewebauthn/server';
import { and, asc, eq, gt, lt, sql } from 'drizzle-orm';
import { InputError } from '@wet-lacquer/core/errors.ts';
import type { Db, Tx } from '../store/db.ts';
import { challenge, painter, passkey } from '../store/schema.ts';

const CHALLENGE_MS = 5 * 60_000;
const MOST_KEYS = 20;

/** Where pages are served from: a key is bound to it. */
export interface Site {
  /** As in "https://paint.example". */
  origin: string;
  /** The name in it. */
  host: string;
}

/** Whether a site can have keys: they are bound to names, not to numbers. */
export const canHaveKeys = ({ host }: Site): boolean => !/^[\d.]+$|[:[]/.test(host);

async function keepChallenge(db: Db, text: string, painterId: string | null): Promise<string> {
  await db.delete(challenge).where(lt(challenge.endsAt, sql`now()`));
  const [{ id }] = await db
    .insert(challenge)
    .values({ challenge: text, painterId, endsAt: new Date(Date.now() + CHALLENGE_MS) })
    .returning({ id: challenge.id });
  return id;
}

/** A challenge, which is used up whether the answer to it is good or not. @throws InputError */
async function useChallenge(db: Db, id: string): Promise<{ challenge: string; painterId: string | null }> {
  const [used] = await db
    .delete(challenge)
    .where(and(eq(challenge.id, id), gt(challenge.endsAt, sql`now()`)))
    .returning();
  if (!used) throw new InputError('This took too long, or was done already; begin again.');
  return used;
}

/** What a browser needs to make a key for somebody. */
export async function askForKey(db: Db, site: Site, of: { id: string; name: string }) {
  const keys = await keysOf(db, of.id);
  if (keys.length >= MOST_KEYS) throw new InputError(`An account has at most ${MOST_KEYS} passkeys.`);
  const options = await generateRegistrationOptions({
    rpName: 'Wet Lacquer',
    rpID: site.host,
    userName: of.name,
    userID: new TextEncoder().encode(of.id),
    attestationType: 'none',
    excludeCredentials: keys.map(({ id }) => ({ id })),
    authenticatorSelection: { residentKey: 'required', userVerification: 'required' },
  });
  return { id: await keepChallenge(db, options.challenge, of.id), options };
}

/** Keeps a key that a browser made. @throws InputError when it is not what was asked for */
export async function keepKey(
  db: Db,
  site: Site,
  painterId: string,
  { id, name, response }: { id: string; name: string; response: RegistrationResponseJSON },
): Promise<void> {
  const asked = await useChallenge(db, id);
  if (asked.painterId !== painterId) throw new InputError('This was asked for by somebody else.');
  const made = await verifyRegistrationResponse({
    response,
    expectedChallenge: asked.challenge,
    expectedOrigin: site.origin,
    expectedRPID: site.host,
    requireUserVerification: true,
  }).catch(notGood);
  if (!made?.verified) throw new InputError('This key is not what was asked for.');
  const { credential } = made.registrationInfo;
  await db
    .insert(passkey)
    .values({
      ...{ id: credential.id, painterId, name, counter: credential.counter },
      publicKey: Buffer.from(credential.publicKey),
      transports: credential.transports ?? [],
    })
    .onConflictDoNothing();
}

/** What a browser needs to sign in with whichever key it has: it is not said whose there are. */
export async function askForSignIn(db: Db, site: Site) {
  const options = await generateAuthenticationOptions({ rpID: site.host, userVerification: 'required' });
  return { id: await keepChallenge(db, options.challenge, null), options };
}

/** Whom a key lets in; null: nobody. */
export async function byKey(
  db: Db,
  site: Site,
  { id, response }: { id: string; response: AuthenticationResponseJSON },
): Promise<{ id: string; name: string } | null> {
  const asked = await useChallenge(db, id);
  const [found] = await db
    .select({ passkey, painter })
    .from(passkey)
    .innerJoin(painter, eq(painter.id, passkey.painterId))
    .where(eq(passkey.id, response.id));
  if (!found || found.painter.closedAt || asked.painterId) return null;
  const { publicKey, counter, transports } = found.passkey;
  const signed = await verifyAuthenticationResponse({
    response,
    expectedChallenge: asked.challenge,
    expectedOrigin: site.origin,
    expectedRPID: site.host,
    requireUserVerification: true,
    credential: { id: response.id, publicKey: new Uint8Array(publicKey), counter, transports: transports as never },
  }).catch(notGood);
  if (!signed?.verified) return null;
  await db
    .update(passkey)
    .set({ counter: signed.authenticationInfo.newCounter, usedAt: sql`now()` })
    .where(eq(passkey.id, response.id));
  return found.painter;
}

/** The package throws for whatever does not fit: wrong origin, challenge, signature, counter. */
const notGood = () => null;

export const keysOf = (tx: Tx, painterId: string) =>
  tx
    .select({ id: passkey.id, name: passkey.name, since: passkey.createdAt, usedAt: passkey.usedAt })
    .from(passkey)
    .where(eq(passkey.painterId, painterId))
    .orderBy(asc(passkey.createdAt));

export async function removeKey(tx: Tx, painterId: string, id: string): Promise<void> {
  await tx.delete(passkey).where(and(eq(passkey.id, id), eq(passkey.painterId, painterId)));
}
