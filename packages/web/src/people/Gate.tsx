import { LinearProgress } from '@mui/material';
import { lazy, Suspense } from 'react';
import { Outlet, useLocation } from 'react-router';
import { sentenceOf } from '../lib/api.ts';
import { Notice } from '../parts/Notice.tsx';
import { useMe } from './me.ts';

const LookScreen = lazy(async () => ({ default: (await import('../screens/people/LookScreen.tsx')).LookScreen }));
const SignInScreen = lazy(async () => ({ default: (await import('../screens/people/SignInScreen.tsx')).SignInScreen }));

/** Screens that say for themselves who may be there. */
const OPEN = /^\/(invited|shared)$/;

/** Lets in whoever is signed in, or everybody where nobody signs in; others sign in right where they are. */
export function Gate() {
  const { me, error } = useMe();
  const { pathname } = useLocation();
  if (!me)
    return error ? (
      <main style={{ padding: 24 }}>
        <Notice level="error">{sentenceOf(error)}</Notice>
      </main>
    ) : (
      <LinearProgress aria-label="Opening Wet Lacquer" />
    );
  if (!me.signIn || me.painter || OPEN.test(pathname)) return <Outlet key={me.painter?.id} />;
  return (
    <Suspense fallback={<LinearProgress aria-label="Opening Wet Lacquer" />}>
      {me.looks && pathname === `/look/${me.looks}` ? <LookScreen /> : <SignInScreen me={me} />}
    </Suspense>
  );
}
