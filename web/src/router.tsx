import { createBrowserRouter, Outlet } from 'react-router';
import { NewVersion } from './parts/NewVersion';
import { StoreTrouble } from './parts/StoreTrouble';
import { NotFound, Trouble } from './screens/NotFound';
import { Shelf } from './screens/shelf/Shelf';

/** Every screen has an address. The shelf comes with the first load, the others when they are opened. */
export const router = createBrowserRouter([
  {
    element: (
      <>
        <StoreTrouble />
        <NewVersion />
        <Outlet />
      </>
    ),
    errorElement: <Trouble />,
    HydrateFallback: () => null,
    children: [
      { path: '/', element: <Shelf /> },
      { path: '/add', lazy: async () => ({ Component: (await import('./screens/add/AddTune')).AddTune }) },
      { path: '/file', lazy: async () => ({ Component: (await import('./screens/add/AddFile')).AddFile }) },
      { path: '/new', lazy: async () => ({ Component: (await import('./screens/add/NewPiece')).NewPiece }) },
      { path: '/song', lazy: async () => ({ Component: (await import('./screens/add/AddSong')).AddSong }) },
      {
        path: '/tune/:tuneId',
        lazy: async () => ({ Component: (await import('./screens/tune/TuneScreen')).TuneScreen }),
      },
      {
        path: '/tune/:tuneId/source',
        lazy: async () => ({ Component: (await import('./screens/tune/SourceScreen')).SourceScreen }),
      },
      {
        path: '/tune/:tuneId/key',
        lazy: async () => ({ Component: (await import('./screens/keycapo/KeyCapo')).KeyCapoScreen }),
      },
      {
        path: '/tune/:tuneId/shapes',
        lazy: async () => ({ Component: (await import('./screens/shapes/Shapes')).ShapesScreen }),
      },
      {
        path: '/tune/:tuneId/chords',
        lazy: async () => ({ Component: (await import('./screens/papers/ChordSheet')).ChordSheetScreen }),
      },
      {
        path: '/tune/:tuneId/words',
        lazy: async () => ({ Component: (await import('./screens/papers/WordsPaper')).WordsPaperScreen }),
      },
      {
        path: '/arrangement/:arrangementId',
        lazy: async () => ({ Component: (await import('./screens/workbench/Workbench')).WorkbenchScreen }),
      },
      {
        path: '/arrangement/:arrangementId/lesson',
        lazy: async () => ({ Component: (await import('./screens/lesson/LessonScreen')).LessonScreen }),
      },
      {
        path: '/arrangement/:arrangementId/lesson/:stepId',
        lazy: async () => ({ Component: (await import('./screens/lesson/LessonScreen')).LessonScreen }),
      },
      {
        path: '/arrangement/:arrangementId/handout',
        lazy: async () => ({ Component: (await import('./screens/papers/Handout')).HandoutScreen }),
      },
      {
        path: '/pupils',
        lazy: async () => ({ Component: (await import('./screens/pupils/PupilsScreen')).PupilsScreen }),
      },
      {
        path: '/pupils/:pupilId',
        lazy: async () => ({ Component: (await import('./screens/pupils/PupilScreen')).PupilScreen }),
      },
      { path: '/tuner', lazy: async () => ({ Component: (await import('./screens/Tuner')).TunerScreen }) },
      {
        path: '/porch',
        lazy: async () => ({ Component: (await import('./screens/porch/PorchDoor')).PorchDoor }),
      },
      {
        path: '/porch/:learningId',
        lazy: async () => ({ Component: (await import('./screens/porch/Porch')).Porch }),
      },
      { path: '*', element: <NotFound what="page" /> },
    ],
  },
]);
