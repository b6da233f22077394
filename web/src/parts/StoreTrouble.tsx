import { Alert, Button, Group, Text } from '@mantine/core';
import { useSyncExternalStore } from 'react';
import type { Kind } from '#core/records';
import { type Copy, overviewSnapshot, saveAll, subscribeOverview } from '../data/copies';
import { downloadUnsaved } from '../engine/backup';

const WORDS: Record<Kind, string> = {
  tunes: 'tune',
  arrangements: 'arrangement',
  lessons: 'progress of a lesson',
  plans: 'plan of key, capo and shapes',
  snapshots: 'version of an arrangement',
  outlines: 'outline of a lesson',
  sheets: 'choices of papers',
  patterns: 'pattern',
  pupils: 'pupil',
  learnings: 'piece of a pupil',
  sittings: 'sitting',
};

function nameOf(copy: Copy<Kind>): string {
  const record = copy.snapshot().history?.present as { title?: string } | undefined;
  return `${record?.title ? `“${record.title}”` : 'a'} ${record?.title ? `(${WORDS[copy.kind]})` : WORDS[copy.kind]}`;
}

/** On every screen: what could not be stored and why, with ways out; and what two windows have changed. */
export function StoreTrouble() {
  const { failed, conflicts } = useSyncExternalStore(subscribeOverview, overviewSnapshot);
  const conflict = conflicts[0];
  return (
    <>
      {failed.length > 0 && (
        <Alert color="cranberry" role="alert" title={`Not stored: ${failed.map(nameOf).join(', ')}`}>
          <Group justify="space-between">
            <Text size="sm">
              {failed[0]!.snapshot().trouble}. It is tried again by itself; keep this window open.
            </Text>
            <Group gap={8}>
              <Button size="compact-sm" variant="default" onClick={() => void saveAll()}>
                Try again now
              </Button>
              <Button size="compact-sm" variant="default" onClick={() => void downloadUnsaved(failed)}>
                Download it
              </Button>
            </Group>
          </Group>
        </Alert>
      )}
      {conflict && <Conflict copy={conflict} />}
    </>
  );
}

/** Two windows changed one record: which shall be kept? */
function Conflict({ copy }: { copy: Copy<Kind> }) {
  const { theirs } = copy.snapshot().conflict!;
  const twice = theirs && (copy.kind === 'tunes' || copy.kind === 'arrangements');
  // Beside the work, not over it: a window that opens under the fingers would swallow what is being typed.
  return (
    <Alert
      color="cranberry"
      role="alert"
      title={theirs ? 'Changed in another window' : 'Taken off the shelf in another window'}
    >
      <Group justify="space-between">
        <Text size="sm">
          {theirs
            ? `${nameOf(copy)} was changed and saved in another window since it was opened here. Which one shall be kept?`
            : `${nameOf(copy)} was taken off the shelf in another window, and it was changed here since.`}
        </Text>
        <Group gap={8}>
          <Button size="compact-sm" onClick={() => void copy.resolve('mine')}>
            {theirs ? 'Keep this one' : 'Keep it'}
          </Button>
          <Button size="compact-sm" variant="default" onClick={() => void copy.resolve('theirs')}>
            {theirs ? 'Take the other one' : 'Let it go'}
          </Button>
          {twice && (
            <Button size="compact-sm" variant="default" onClick={() => void copy.resolve('both')}>
              Keep both
            </Button>
          )}
        </Group>
      </Group>
    </Alert>
  );
}
