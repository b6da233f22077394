import '@fontsource-variable/atkinson-hyperlegible-mono';
import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/bricolage-grotesque';
import '@mantine/core/styles.css';
import '@mantine/notifications/styles.css';
import './theme/styles.css';
import { MantineProvider } from '@mantine/core';
import { QueryClientProvider } from '@tanstack/react-query';
import { lazy, StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router/dom';
import { firstScreenRead, queryClient } from './data/queries';
import { keepPlace } from './parts/keepPlace';
import { router } from './router';
import { theme } from './theme/theme';

/** Milliseconds after which what is told can be shown: by then the first screen stands. What is told before is kept. */
const STANDS = 500;
const Notifications = lazy(async () => {
  await new Promise(done => setTimeout(done, STANDS));
  return { default: (await import('@mantine/notifications')).Notifications };
});

const begin = () =>
  createRoot(document.getElementById('root')!).render(
    <StrictMode>
      <MantineProvider theme={theme} defaultColorScheme="light">
        <Suspense>
          <Notifications position="bottom-left" />
        </Suspense>
        <QueryClientProvider client={queryClient}>
          <RouterProvider router={router} />
        </QueryClientProvider>
      </MantineProvider>
    </StrictMode>,
  );

keepPlace();
void firstScreenRead().then(begin);
