import type { AuthenticationResponseJSON, RegistrationResponseJSON } from '@simplewebauthn/server';
import type { Request, Response } from 'express';
import { z } from 'zod';
import { words } from '@wet-lacquer/core/livery/words.ts';
import type { InvitationCard, Me, PainterCard, PasskeyCard, SessionCard } from '@wet-lacquer/sync/people.ts';
import { Forbidden, NotSignedIn } from '../host/errors.ts';
import {
  accountOf,
  byCode,
  byPassword,
  codesLeft,
  hasPainters,
  invitationOf,
  invite,
  keyOf,
  listInvitations,
  listPainters,
  newCodes,
  setAccount,
  setPassword,
  takeBackInvitation,
  takeInvitation,
} from '../people/accounts.ts';
import { giveSession, guarded, painterOf, takeCookies, whoAsks, type Guarded } from '../people/guard.ts';
import { countTry, forgetTries } from '../people/limits.ts';
import {
  askForKey,
  askForSignIn,
  byKey,
  canHaveKeys,
  keepKey,
  keysOf,
  removeKey,
  type Site,
} from '../people/passkeys.ts';
import { isPassword } from '../people/secrets.ts';
import { beginSession, endSessions, sessionsOf } from '../people/sessions.ts';
import type { Services } from '../host/services.ts';
import { answer, bodyOf, idOf, originOf } from './http.ts';

const Name = words(40, 1).refine((name) => keyOf(name).length > 0, 'write a name');
/** Longer ones are refused before they cost anything. */
const Password = z.string().max(1000);
const Token = z.string().max(100);
const ByPassword = z.strictObject({ name: z.string().max(200), password: Password });
const ByCode = z.strictObject({ name: z.string().max(200), code: z.string().max(100) });
/** What a browser made of a question; the package looks at it. */
const FromBrowser = z.looseObject({ id: z.string().max(2000), response: z.looseObject({}) });
const SignedBy = z.strictObject({ id: z.uuid(), response: FromBrowser });
const MadeKey = z.strictObject({ id: z.uuid(), name: words(60, 1), response: FromBrowser });
const Taken = z.strictObject({ token: Token, name: Name, password: Password });
const Again = z.strictObject({ password: Password.default('') });
const NextPassword = z.strictObject({ password: Password.default(''), next: Password });
const ToInvite = z.strictObject({
  note: words(80).default(''),
  keeper: z.boolean().default(false),
  painter: z.uuid().optional(),
});
const Changed = z.strictObject({ closed: z.boolean().optional(), keeper: z.boolean().optional() });

/** Somebody without a password is asked to have signed in within so long for what matters. */
const FRESH_MS = 10 * 60_000;
const NOT_RIGHT = 'The name or the password is not right.';

/** Signing in and out, one's own account, and those of others for keepers. */
export function people({ db, config }: Services): Guarded {
  const router = guarded();
  const siteOf = (req: Request): Site => {
    const origin = originOf(config, req);
    return { origin, host: new URL(origin).hostname };
  };
  const browserOf = (req: Request) => req.get('user-agent') ?? '';
  const letIn = async (req: Request, res: Response, id: string) => {
    // Whatever was signed in here before is not any more.
    const before = whoAsks(res);
    if (before?.is === 'painter') await endSessions(db, before.id, { only: before.session });
    takeCookies(res);
    giveSession(res, await beginSession(db, id, browserOf(req)));
    const { name, keeper } = await accountOf(db, id);
    answer<Me>(res, {
      signIn: true,
      painter: { id, name, keeper },
      looks: null,
      empty: false,
      keys: canHaveKeys(siteOf(req)),
    });
  };
  const address = (req: Request) => req.ip ?? '';
  /** @throws Forbidden when a session alone is not enough */
  const sure = async (res: Response, password: string) => {
    const { id, since } = painterOf(res);
    const { password: hash } = await accountOf(db, id);
    if (hash) {
      await countTry(db, 'name', `again ${id}`);
      if (!(await isPassword(hash, password))) throw new Forbidden('Your password is not right.');
      await forgetTries(db, 'name', `again ${id}`);
    } else if (Date.now() - since.getTime() > FRESH_MS)
      throw new Forbidden('Sign in again first: this browser signed in a while ago.');
  };

  router.get('/me', 'anyone', async (req, res) => {
    const who = whoAsks(res);
    answer<Me>(res, {
      signIn: config.signIn,
      painter: who?.is === 'painter' ? { id: who.id, name: who.name, keeper: who.keeper } : null,
      looks: who?.is === 'looker' ? who.livery : null,
      empty: config.signIn && !who && !(await hasPainters(db)),
      keys: canHaveKeys(siteOf(req)),
    });
  });

  router.post('/sign-in', 'anyone', async (req, res) => {
    const { name, password } = bodyOf(ByPassword, req.body);
    await countTry(db, 'address', address(req));
    await countTry(db, 'name', keyOf(name));
    const found = await byPassword(db, name, password);
    if (!found) throw new NotSignedIn(NOT_RIGHT);
    await forgetTries(db, 'name', keyOf(name));
    await letIn(req, res, found.id);
  });

  router.post('/sign-in/code', 'anyone', async (req, res) => {
    const { name, code } = bodyOf(ByCode, req.body);
    await countTry(db, 'address', address(req));
    await countTry(db, 'code', keyOf(name));
    const found = await byCode(db, name, code);
    if (!found) throw new NotSignedIn('The name or the code is not right, or the code was used before.');
    await letIn(req, res, found.id);
  });

  router.post('/sign-in/passkey/options', 'anyone', async (req, res) => {
    await countTry(db, 'address', address(req));
    res.json(await askForSignIn(db, siteOf(req)));
  });

  router.post('/sign-in/passkey', 'anyone', async (req, res) => {
    const { id, response } = bodyOf(SignedBy, req.body);
    await countTry(db, 'address', address(req));
    const found = await byKey(db, siteOf(req), { id, response: response as unknown as AuthenticationResponseJSON });
    if (!found) throw new NotSignedIn('This passkey is not known here.');
    await letIn(req, res, found.id);
  });

  /** What one keeps here is let go, also of a link to look. */
  router.post('/sign-out', 'anyone', async (_req, res) => {
    const who = whoAsks(res);
    if (who?.is === 'painter') await endSessions(db, who.id, { only: who.session });
    takeCookies(res);
    // Pictures of others' work do not stay in the browser; steps that were not sent do.
    res.set('Clear-Site-Data', '"cache"').status(204).end();
  });

  router.get('/me/account', 'painters', async (_req, res) => {
    const { id, session } = painterOf(res);
    const sessions = await sessionsOf(db, id);
    res.json({
      password: (await accountOf(db, id)).password !== null,
      codes: await codesLeft(db, id),
      passkeys: (await keysOf(db, id)) satisfies Sendable<PasskeyCard>[],
      sessions: sessions.map((one) => ({ ...one, here: one.id === session })) satisfies Sendable<SessionCard>[],
    });
  });

  router.delete('/me/sessions/:id', 'painters', async (req, res) => {
    await endSessions(db, painterOf(res).id, { only: idOf(req.params.id) });
    res.status(204).end();
  });

  /** Everywhere, here too. */
  router.delete('/me/sessions', 'painters', async (_req, res) => {
    await endSessions(db, painterOf(res).id, { but: null });
    takeCookies(res);
    res.status(204).end();
  });

  router.post('/me/password', 'painters', async (req, res) => {
    const { password, next } = bodyOf(NextPassword, req.body);
    await sure(res, password);
    const { id, session } = painterOf(res);
    await setPassword(db, id, next, session);
    res.status(204).end();
  });

  router.post('/me/codes', 'painters', async (req, res) => {
    await sure(res, bodyOf(Again, req.body).password);
    res.json({ codes: await newCodes(db, painterOf(res).id) });
  });

  router.post('/me/passkeys/options', 'painters', async (req, res) => {
    await sure(res, bodyOf(Again, req.body).password);
    res.json(await askForKey(db, siteOf(req), painterOf(res)));
  });

  router.post('/me/passkeys', 'painters', async (req, res) => {
    const { response, ...made } = bodyOf(MadeKey, req.body);
    await keepKey(db, siteOf(req), painterOf(res).id, {
      ...made,
      response: response as unknown as RegistrationResponseJSON,
    });
    res.status(201).json({});
  });

  router.delete('/me/passkeys/:id', 'painters', async (req, res) => {
    await removeKey(db, painterOf(res).id, req.params.id);
    res.status(204).end();
  });

  /** What a link invites to. */
  router.post('/invitations/look', 'anyone', async (req, res) => {
    await countTry(db, 'address', address(req));
    const { name, keeper } = await invitationOf(db, bodyOf(z.strictObject({ token: Token }), req.body).token);
    res.json({ name, keeper });
  });

  router.post('/invitations/take', 'anyone', async (req, res) => {
    const { token, name, password } = bodyOf(Taken, req.body);
    await countTry(db, 'address', address(req));
    await letIn(req, res, await takeInvitation(db, token, name, password));
  });

  router.get('/invitations', 'keepers', async (_req, res) => {
    res.json((await listInvitations(db)) satisfies Sendable<InvitationCard>[]);
  });

  /** The token is said this once. */
  router.post('/invitations', 'keepers', async (req, res) => {
    const { note, keeper, painter } = bodyOf(ToInvite, req.body);
    res.status(201).json({ token: await invite(db, { note, keeper, painterId: painter ?? null }) });
  });

  router.delete('/invitations/:id', 'keepers', async (req, res) => {
    await takeBackInvitation(db, idOf(req.params.id));
    res.status(204).end();
  });

  router.get('/painters', 'keepers', async (_req, res) => {
    res.json((await listPainters(db)) satisfies Sendable<PainterCard>[]);
  });

  router.post('/painters/:id', 'keepers', async (req, res) => {
    await setAccount(db, idOf(req.params.id), bodyOf(Changed, req.body));
    res.status(204).end();
  });

  return router;
}

/** As it is before dates become text. */
type Sendable<T> = { [K in keyof T]: T[K] extends string | null ? T[K] | Date : T[K] };
