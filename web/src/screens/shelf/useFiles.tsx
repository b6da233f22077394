import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { RejectedRecord } from '#core/formats/bundle';
import { type Incoming, previewImport } from '../../data/incoming';
import { storeWords } from '../../data/store';
import { readTextFile } from '../../engine/files';
import { arranger } from '../../engine/workers';

/** A bundle that was read and waits to be taken in. */
export interface WaitingBundle {
  name: string;
  incoming: Incoming[];
  rejected: RejectedRecord[];
}

/** Largest file that is read: far beyond any studio, far below what hangs a browser. */
const MOST_BYTES = 60_000_000;

async function refuse(name: string, message: string): Promise<void> {
  const { notifications } = await import('@mantine/notifications');
  notifications.show({
    color: 'cranberry',
    autoClose: false,
    title: `${name} could not be taken in`,
    message,
  });
}

/** A file of notes that another program wrote. */
export interface ScoreFile {
  name: string;
  bytes: Uint8Array;
}

/** As `isScoreFile` of the core, which is loaded when such a file is read. */
const SCORE_FILE = /\.(musicxml|xml|mxl|midi?)$/i;

/**
 * Opens files: tunes in ABC go to the screen that adds tunes, all of them together; scores, MIDI, songs and text tabs to
 * theirs, one at a time; bundles wait to be looked at.
 */
export function useFiles() {
  const navigate = useNavigate();
  const [waiting, setWaiting] = useState<WaitingBundle[]>([]);
  const open = async (files: readonly File[]) => {
    const books: string[] = [];
    const bundles: WaitingBundle[] = [];
    let song: string | undefined;
    let tab: { name: string; text: string } | undefined;
    let score: ScoreFile | undefined;
    for (const file of files) {
      try {
        if (file.size > MOST_BYTES) {
          await refuse(
            file.name,
            `it has ${Math.round(file.size / 1e6)} MB; files up to ${MOST_BYTES / 1e6} MB are read`,
          );
          continue;
        }
        if (SCORE_FILE.test(file.name)) {
          score = { name: file.name, bytes: new Uint8Array(await file.arrayBuffer()) };
          continue;
        }
        const text = await readTextFile(file);
        if (/\.(cho|chopro|chordpro|crd|pro)$/i.test(file.name) || /^\s*\{\s*[a-z]/i.test(text)) {
          song = text;
          continue;
        }
        if (!/\.json$/i.test(file.name) && !text.trimStart().startsWith('{')) {
          const kind = /\.tab$/i.test(file.name) ? 'tab' : await arranger().kindOfText(text);
          if (kind === 'tab') tab = { name: file.name.replace(/\.[^.]*$/, ''), text };
          else if (kind === 'song') song = text;
          else books.push(text);
          continue;
        }
        const { readBundle } = await import('#core/formats/bundle');
        const result = readBundle(text);
        if (result.error !== undefined) await refuse(file.name, result.error);
        else
          bundles.push({
            name: file.name,
            incoming: await previewImport(result.bundle),
            rejected: result.rejected,
          });
      } catch (cause) {
        await refuse(file.name, storeWords(cause));
      }
    }
    setWaiting(before => [...before, ...bundles]);
    // An empty line ends a tune, so books that follow each other stay apart.
    if (score) navigate('/file', { state: { score } });
    else if (song !== undefined) navigate('/song', { state: { song } });
    else if (tab) navigate('/new', { state: tab });
    else if (books.length) navigate('/add', { state: { text: books.join('\n\n') } });
  };
  return { open, waiting: waiting[0], done: () => setWaiting(before => before.slice(1)) };
}
