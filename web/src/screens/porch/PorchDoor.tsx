import { Alert, Group, Text, Title } from '@mantine/core';
import type { DragEvent } from 'react';
import { Link, useNavigate } from 'react-router';
import { useLearnings, usePupils, useStoreChange } from '../../data/queries';
import { storeWords } from '../../data/store';
import { readTextFile } from '../../engine/files';
import { takeLessonIn } from '../../engine/lessonFile';
import { Masthead } from '../../parts/Masthead';
import { TakeFile } from '../../parts/TakeFile';
import common from '../../theme/common.module.css';
import { pieceTitle, usePieces } from '../pupils/usePieces';
import styles from './Porch.module.css';

const NONE: never[] = [];

/** Where a pupil comes in: a lesson file is opened, or a piece that is here already. */
export function PorchDoor() {
  const navigate = useNavigate();
  const learnings = useLearnings();
  const pupils = usePupils();
  const pieces = usePieces(learnings.data ?? NONE);
  const open = useStoreChange(async (file: File) => {
    const [first] = await takeLessonIn(await readTextFile(file));
    navigate(`/porch/${first!.id}`);
  });
  const drop = (event: DragEvent) => {
    event.preventDefault();
    const [file] = event.dataTransfer.files;
    if (file) open.mutate(file);
  };
  const nameOf = (id: string) => pupils.data?.find(pupil => pupil.id === id)?.name ?? '';
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: a file may be dropped anywhere; the same is done with the button
    <div className={common.frame} onDragOver={event => event.preventDefault()} onDrop={drop}>
      <Masthead title="Porch" under="where a lesson is played and practised" />
      <main className={`${common.page} ${styles.porchDoor}`}>
        <Title order={2}>Have you got a lesson file?</Title>
        <Text>
          Your teacher gives you one for each piece. Everything stays on this device, and works without the
          internet.
        </Text>
        <TakeFile
          size="lg"
          variant="filled"
          color="marigold.6"
          busy={open.isPending}
          accept=".json,application/json"
          label="Lesson file"
          onFile={file => open.mutate(file)}
        >
          Open a lesson file
        </TakeFile>
        {open.error && (
          <Alert color="cranberry" title="This file can’t be opened">
            {storeWords(open.error)}.
          </Alert>
        )}
        {pieces && pieces.length > 0 && (
          <>
            <Title order={2} mt="lg">
              On this device
            </Title>
            <ul>
              {pieces
                .filter(piece => piece.arrangement)
                .map(piece => (
                  <li key={piece.learning.id}>
                    <Group gap="xs">
                      <Link to={`/porch/${piece.learning.id}`}>{pieceTitle(piece)}</Link>
                      <span className={common.quiet}>{nameOf(piece.learning.pupilId)}</span>
                    </Group>
                  </li>
                ))}
            </ul>
          </>
        )}
      </main>
    </div>
  );
}
