import { Button } from '@mantine/core';
import { isRouteErrorResponse, Link, useRouteError } from 'react-router';
import { Masthead } from '../parts/Masthead';
import common from '../theme/common.module.css';

/** Shown where a link leads to nothing (any more). */
export function NotFound({ what }: { what: 'page' | 'tune' | 'arrangement' | 'file' | 'pupil' | 'lesson' }) {
  return (
    <div className={common.frame}>
      <Masthead title="Velvet Porch" />
      <main className={common.page}>
        <h2>There is no such {what} here</h2>
        <p>
          {what === 'page'
            ? 'The address leads nowhere.'
            : what === 'file'
              ? 'Open it from the shelf, or drop it there.'
              : `The ${what} was taken away, or it is in another browser: data stays where it was made unless it is exported.`}
        </p>
        <Button component={Link} to="/">
          To the shelf
        </Button>
      </main>
    </div>
  );
}

/** What the browsers say, each in its own words and with an address, where a file of the app did not come. */
const NOT_LOADED = /dynamically imported module|module script failed/i;

/** Shown when a screen breaks: nothing stored is touched. */
export function Trouble() {
  const error = useRouteError();
  const text = isRouteErrorResponse(error)
    ? error.statusText
    : error instanceof Error
      ? NOT_LOADED.test(error.message)
        ? 'a part of the app could not be loaded. Is its server still there?'
        : error.message
      : 'unknown trouble';
  return (
    <div className={common.frame}>
      <Masthead title="Velvet Porch" />
      <main className={common.page}>
        <h2>This screen has run into trouble</h2>
        <p>Your work is stored and untouched. What went wrong: {text}</p>
        <Button onClick={() => window.location.reload()}>Open it again</Button>
      </main>
    </div>
  );
}
