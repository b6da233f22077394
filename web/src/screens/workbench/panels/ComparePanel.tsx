import { Button, Modal, NumberInput, Text } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useMemo, useState } from 'react';
import {
  differencesOf,
  likenessOf,
  likenessWords,
  likePhrases,
  likeSections,
  phraseWords,
  sectionWords,
} from '#core/compare';
import type { Arrangement } from '#core/score';
import { measureNumbers, measureSpan } from '#core/tune';
import { capital } from '#core/words';
import { type ChordNames, USUAL_LANES } from '../../../parts/ribbon/measureLayout';
import { Ribbon } from '../../../parts/ribbon/Ribbon';

interface ComparePanelProps {
  arrangement: Arrangement;
  /** Place of the measure at the cursor. */
  at: number;
  /** Chosen measures, by place. */
  range: { from: number; to: number };
  names: ChordNames;
}

/** What the measure and its section are like, in a sentence; and two passages side by side. */
export function ComparePanel({ arrangement, at, range, names }: ComparePanelProps) {
  const likeness = useMemo(() => likenessOf(arrangement, at), [arrangement, at]);
  const section = useMemo(
    () => likeSections(arrangement).find(like => like.section.from <= at && at < like.section.to),
    [arrangement, at],
  );
  const phrase = useMemo(
    () => likePhrases(arrangement).find(({ phrase: { first, last } }) => first <= at && at <= last),
    [arrangement, at],
  );
  const [shown, { open, close }] = useDisclosure(false);
  const other = likeness ? likeness.as - (at - range.from) : Math.max(0, range.from - 1);
  return (
    <section aria-label="What is the same">
      <Text size="sm" mb={4}>
        {likeness ? likenessWords(arrangement, likeness) : 'No measure before it is like this one.'}
        {section && ` ${sectionWords(arrangement, section)}`}
        {phrase && ` ${phraseWords(arrangement, phrase)}`}
      </Text>
      {arrangement.measures.length > 1 && (
        <Button size="compact-sm" variant="default" mb={8} onClick={open}>
          Side by side
        </Button>
      )}
      <Modal opened={shown} onClose={close} size="min(1100px, 96vw)" title="Two passages side by side">
        {shown && (
          <SideBySide arrangement={arrangement} range={range} names={names} first={Math.max(0, other)} />
        )}
      </Modal>
    </section>
  );
}

/** The chosen measures and others of the same number, with what differs marked and told. */
function SideBySide({ arrangement, range, names, first }: Omit<ComparePanelProps, 'at'> & { first: number }) {
  const { measures, setup } = arrangement;
  const numbers = measureNumbers(measures);
  const [from, setFrom] = useState(first);
  const size = range.to - range.from + 1;
  const last = measures.length - size;
  const pairs = Array.from({ length: size }, (_, i) => ({ here: range.from + i, there: from + i })).map(
    pair => ({
      ...pair,
      differences: differencesOf(setup, measures[pair.there]!, measures[pair.here]!),
    }),
  );
  const differ = pairs.filter(({ differences }) => differences.length);
  const row = (places: number[]) => (
    <Ribbon
      arrangement={arrangement}
      names={names}
      shown={USUAL_LANES}
      show={places}
      differing={
        new Map(
          places.map((index, i) => [
            index,
            pairs[i]!.differences.flatMap(({ place }) =>
              place === undefined ? [] : place - measures[index]!.offset,
            ).join(' '),
          ]),
        )
      }
    />
  );
  return (
    <>
      <h3>{capital(measureSpan(numbers, range.from, range.to))}</h3>
      {row(pairs.map(({ here }) => here))}
      <NumberInput
        size="sm"
        w={220}
        mt={10}
        label="Beside it, from measure"
        min={numbers[0]!}
        max={numbers[Math.max(0, last)]!}
        value={numbers[from]!}
        onChange={value => {
          const place = numbers.indexOf(Number(value));
          if (place >= 0 && place <= last) setFrom(place);
        }}
      />
      <h3>{capital(measureSpan(numbers, from, from + size - 1))}</h3>
      {row(pairs.map(({ there }) => there))}
      <div role="status">
        {differ.length === 0 && <Text mt={8}>They are played just the same.</Text>}
        <ul>
          {differ.map(({ here, differences }) => (
            <li key={here}>
              {capital(measureSpan(numbers, here, here))}, {differences.map(({ text }) => text).join('; ')}.
            </li>
          ))}
        </ul>
      </div>
    </>
  );
}
