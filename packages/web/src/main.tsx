import '@fontsource/barlow/400.css';
import '@fontsource/barlow/600.css';
import '@fontsource/barlow-condensed/500.css';
import '@fontsource/ibm-plex-mono/400.css';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, RouterProvider } from 'react-router';
import { SWRConfig } from 'swr';
import { get } from './lib/api.ts';
import { LiveriesScreen } from './screens/liveries/LiveriesScreen.tsx';
import { NowhereScreen } from './screens/NowhereScreen.tsx';
import { Gate } from './people/Gate.tsx';
import { Crash } from './shell/Crash.tsx';
import { Waiting } from './shell/Waiting.tsx';
import { InTheRoom } from './shell/InTheRoom.tsx';

/** The first screen comes with the page; the others, with the heavy parts that they need, when they are opened. */
const router = createBrowserRouter([
  {
    Component: Gate,
    ErrorBoundary: Crash,
    HydrateFallback: () => null,
    children: [
      { path: '/', Component: LiveriesScreen },
      {
        path: '/start',
        lazy: async () => ({ Component: (await import('./screens/start/StartScreen.tsx')).StartScreen }),
      },
      {
        path: '/line-up',
        lazy: async () => ({ Component: (await import('./screens/lineUp/LineUpScreen.tsx')).LineUpScreen }),
      },
      {
        path: '/teams/:id',
        lazy: async () => ({ Component: (await import('./screens/team/TeamScreen.tsx')).TeamScreen }),
      },
      {
        path: '/teams/:id/deliver',
        lazy: async () => ({ Component: (await import('./screens/team/TeamDeliverScreen.tsx')).TeamDeliverScreen }),
      },
      {
        path: '/liveries/:id',
        lazy: async () => ({ Component: (await import('./screens/easel/EaselScreen.tsx')).EaselScreen }),
      },
      {
        path: '/liveries/:id/proof',
        lazy: async () => ({ Component: (await import('./screens/proof/ProofScreen.tsx')).ProofScreen }),
      },
      {
        path: '/liveries/:id/deliver',
        lazy: async () => ({ Component: (await import('./screens/deliver/DeliverScreen.tsx')).DeliverScreen }),
      },
      {
        path: '/liveries/:id/new-name',
        lazy: async () => ({ Component: (await import('./screens/deliver/newName/NewNameScreen.tsx')).NewNameScreen }),
      },
      {
        path: '/liveries/:id/onto',
        lazy: async () => ({ Component: (await import('./screens/onto/OntoScreen.tsx')).OntoScreen }),
      },
      {
        path: '/templates',
        lazy: async () => ({ Component: (await import('./screens/templates/TemplatesScreen.tsx')).TemplatesScreen }),
      },
      {
        path: '/templates/bring/:id',
        lazy: async () => ({ Component: (await import('./screens/templates/IntakeScreen.tsx')).IntakeScreen }),
      },
      {
        path: '/templates/container',
        lazy: async () => ({ Component: (await import('./screens/templates/ContainerScreen.tsx')).ContainerScreen }),
      },
      {
        path: '/templates/:hash',
        lazy: async () => ({ Component: (await import('./screens/templates/TemplateScreen.tsx')).TemplateScreen }),
      },
      {
        path: '/decals',
        lazy: async () => ({ Component: (await import('./screens/decals/DecalsScreen.tsx')).DecalsScreen }),
      },
      {
        path: '/specs',
        lazy: async () => ({ Component: (await import('./screens/specs/SpecsScreen.tsx')).SpecsScreen }),
      },
      {
        path: '/specs/:key',
        lazy: async () => ({ Component: (await import('./screens/specs/SpecScreen.tsx')).SpecScreen }),
      },
      {
        path: '/bay/:game?',
        lazy: async () => ({ Component: (await import('./screens/bay/BayScreen.tsx')).BayScreen }),
      },
      {
        path: '/exchange',
        lazy: async () => ({ Component: (await import('./screens/exchange/ExchangeScreen.tsx')).ExchangeScreen }),
      },
      {
        path: '/exchange/:id',
        lazy: async () => ({ Component: (await import('./screens/exchange/SkinScreen.tsx')).SkinScreen }),
      },
      {
        path: '/help/:page?',
        lazy: async () => ({ Component: (await import('./screens/help/HelpScreen.tsx')).HelpScreen }),
      },
      {
        path: '/account',
        lazy: async () => ({ Component: (await import('./screens/people/AccountScreen.tsx')).AccountScreen }),
      },
      {
        path: '/people',
        lazy: async () => ({ Component: (await import('./screens/people/PeopleScreen.tsx')).PeopleScreen }),
      },
      {
        path: '/invited',
        lazy: async () => ({ Component: (await import('./screens/people/InvitedScreen.tsx')).InvitedScreen }),
      },
      {
        path: '/shared',
        lazy: async () => ({ Component: (await import('./screens/people/SharedScreen.tsx')).SharedScreen }),
      },
      {
        path: '/look/:id',
        lazy: async () => ({ Component: (await import('./screens/people/LookScreen.tsx')).LookScreen }),
      },
      { path: '*', Component: NowhereScreen },
    ],
  },
]);

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <InTheRoom>
      <SWRConfig value={{ fetcher: get, revalidateOnFocus: true, shouldRetryOnError: true, errorRetryInterval: 1500 }}>
        <RouterProvider router={router} />
        <Waiting />
      </SWRConfig>
    </InTheRoom>
  </StrictMode>,
);
