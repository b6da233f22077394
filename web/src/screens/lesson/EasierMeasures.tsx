import { Alert, Button, Group, NumberInput, Text } from '@mantine/core';
import { useMemo, useState } from 'react';
import { measureDifficulty } from '#core/check';
import { type LessonOutline, type LessonStep, taughtArrangement } from '#core/lesson';
import { type Arrangement, LEVELS, type Level, settingsOf, type Variant } from '#core/score';
import { LEVEL_WORDS } from '../../parts/arranging/arrangeWords';
import { BusyButton } from '../../parts/BusyButton';
import { Choice } from '../../parts/Choice';
import common from '../../theme/common.module.css';
import type { Easier } from './useEasier';

interface EasierProps {
  arrangement: Arrangement;
  outline: LessonOutline;
  easier: Easier;
  /** Teaches variants (ids) in the place of measures (ids), or those as they stand. */
  onPut: (measures: readonly string[], variants: readonly string[]) => void;
}

const has = ({ inPlace }: LessonOutline, id: string) => inPlace?.includes(id) ?? false;

/** "4.2" */
const hardness = (arrangement: Arrangement, index: number) =>
  measureDifficulty(arrangement, index).total.toFixed(1);

/** How hard a measure may be in this lesson: harder ones are taught at a lower level. */
export function EasierInAll({ arrangement, outline, easier, onPut }: EasierProps) {
  const [hardest, setHardest] = useState<number>();
  const { measures } = arrangement;
  // As they are taught: what is easy enough by now stays so.
  const hard = useMemo(() => {
    const taught = taughtArrangement(arrangement, outline);
    return taught.measures.map((_, index) => measureDifficulty(taught, index).total);
  }, [arrangement, outline]);
  const most = Math.max(...hard);
  const harder = hard.flatMap((total, index) => (hardest !== undefined && total > hardest ? [index] : []));
  // One that was forgotten in the Workbench is none any more.
  const count = (arrangement.variants ?? []).filter(({ id }) => has(outline, id)).length;
  if (!easier.offered && !count) return null;
  return (
    <div className={common.stack}>
      {easier.offered && (
        <>
          <NumberInput
            label="No measure harder than"
            description={`Now ${Math.min(...hard).toFixed(1)} to ${most.toFixed(1)}.`}
            placeholder="any"
            min={1}
            max={100}
            decimalScale={1}
            value={hardest ?? ''}
            onChange={value => setHardest(typeof value === 'number' && value >= 1 ? value : undefined)}
          />
          <BusyButton
            variant="default"
            size="compact-sm"
            disabled={!harder.length}
            busy={easier.working}
            onClick={() => easier.make(harder, { hardest: hardest! }, `No harder than ${hardest}`, onPut)}
          >
            Make them easier
          </BusyButton>
        </>
      )}
      {count > 0 && (
        <Group gap="xs">
          <Text size="sm">{count === 1 ? 'One passage is' : `${count} passages are`} taught otherwise.</Text>
          <Button
            size="compact-sm"
            variant="default"
            onClick={() =>
              onPut(
                measures.map(own => own.id),
                [],
              )
            }
          >
            All as it stands
          </Button>
        </Group>
      )}
      {easier.trouble && (
        <Alert color="cranberry" role="status">
          {easier.trouble}.
        </Alert>
      )}
    </div>
  );
}

/** The level at which the measure of a step is taught, with those that are just the same. */
export function EasierMeasure({ step, ...props }: EasierProps & { step: LessonStep }) {
  const { arrangement, outline, easier, onPut } = props;
  const [index] = step.measures;
  const measure = arrangement.measures[index!];
  const variants = (arrangement.variants ?? []).filter(
    own => !own.last && own.measures.length === 1 && own.measures[0] === measure?.id,
  );
  const settings = settingsOf(arrangement);
  const lower = easier.offered && arrangement.style !== 'pattern' ? LEVELS : [];
  const levels = lower.filter(
    level => level < settings.level && !variants.some(own => own.name === nameOf(level)),
  );
  if (step.kind !== 'measure' || !measure || !(variants.length + levels.length)) return null;
  const places = [index!, ...(step.alike ?? [])];
  const ids = places.map(place => arrangement.measures[place]!.id);
  const chosen = variants.find(({ id }) => has(outline, id));
  const put = (kept: string[]) => onPut(ids, kept);
  const taught = taughtArrangement(arrangement, outline);
  /** The variant of each of the same measures that has the name. */
  const named = ({ name }: Variant) =>
    (arrangement.variants ?? [])
      .filter(own => own.name === name && own.measures.length === 1 && ids.includes(own.measures[0]!))
      .map(({ id }) => id);
  return (
    <Choice
      label={`Taught${easier.working ? ' (being made …)' : ''}, difficulty ${hardness(taught, index!)}${chosen ? ` (${hardness(arrangement, index!)} as it stands)` : ''}`}
      options={[
        { value: '', label: 'as it stands' },
        ...variants.map(({ id, name }) => ({ value: id, label: name })),
        ...levels.map(level => ({ value: `level ${level}`, label: `at level ${LEVEL_WORDS[level]}` })),
      ]}
      value={chosen?.id ?? ''}
      onChange={value => {
        const level = levels.find(own => value === `level ${own}`);
        const variant = variants.find(({ id }) => id === value);
        if (level) easier.make(places, { level }, nameOf(level), onPut);
        else put(variant ? named(variant) : []);
      }}
    />
  );
}

const nameOf = (level: Level): string => `Level ${level}`;
