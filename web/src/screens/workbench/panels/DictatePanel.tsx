import { Button, Group, Text, Textarea } from '@mantine/core';
import { getHotkeyHandler, useDebouncedValue, useLocalStorage } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { Arrangement } from '#core/score';
import { markOf } from '../../../data/mark';
import { arranger } from '../../../engine/workers';
import { LettersHelp } from '../../../parts/LettersHelp';
import { TextReport } from '../../../parts/TextReport';
import { textStyle } from '../../../parts/textStyle';

/** Milliseconds without a key after which a text is read. */
const PAUSE = 250;

/** A passage as it is said, or a tab that was pasted; what it makes is shown and heard before it is taken over. */
export function DictatePanel({
  arrangement,
  measure,
  place,
  ready,
  onPropose,
  onTake,
}: {
  arrangement: Arrangement;
  /** Id of the measure that it is written into, and what that is called. */
  measure: string;
  place: string;
  /** Whether what it makes is shown. */
  ready: boolean;
  onPropose: (proposal: Arrangement | undefined) => void;
  onTake: () => void;
}) {
  // Kept until it is taken over, wherever one goes meanwhile.
  const [text, setText] = useLocalStorage({ key: `dictation ${arrangement.id}`, defaultValue: '' });
  const [settled] = useDebouncedValue(text, PAUSE);
  const read = useQuery({
    queryKey: ['dictation', markOf(arrangement), measure, settled],
    queryFn: () => arranger().writtenOn(arrangement, measure, settled),
    enabled: settled.trim() !== '',
    gcTime: 0,
    retry: false,
  });
  const known = settled === text && settled.trim() ? read.data : undefined;
  const proposal = known?.arrangement;
  useEffect(() => onPropose(proposal), [proposal, onPropose]);
  const trouble =
    known?.error ?? (read.error ? `The text could not be read: ${read.error.message}` : undefined);
  const take = () => {
    if (!ready || !proposal) return;
    onTake();
    setText('');
  };
  return (
    <section aria-label="Dictate">
      <Textarea
        label={`From ${place.charAt(0).toLowerCase()}${place.slice(1)} on`}
        description="Say it string by string, or paste a tab. Ctrl Enter writes it."
        placeholder={'s4 E 0 2h3 s3 0 2/4 | s2 Q 1 ...'}
        autosize
        minRows={6}
        maxRows={16}
        data-autofocus
        autoFocus
        spellCheck={false}
        styles={{ input: textStyle(text) }}
        value={text}
        onChange={event => setText(event.currentTarget.value)}
        onKeyDown={getHotkeyHandler([['mod+Enter', take]])}
      />
      <Group gap={8} mt={8}>
        <Button color="marigold.6" disabled={!ready || !proposal} onClick={take}>
          Write it
        </Button>
        <Button variant="default" disabled={!text} onClick={() => setText('')}>
          Clear
        </Button>
      </Group>
      <div role="status" aria-live="polite">
        {trouble && (
          <Text size="sm" c="var(--cranberry)" mt={8}>
            {trouble}
          </Text>
        )}
        {known && <TextReport reading={known.reading} />}
      </div>
      <LettersHelp />
    </section>
  );
}
