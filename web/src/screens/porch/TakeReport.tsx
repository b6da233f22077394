import { Text } from '@mantine/core';
import { placeName } from '#core/check';
import { isClean, type Judged, type Take } from '#core/listen';
import { pitchName, spellMidi } from '#core/pitch';
import type { Arrangement } from '#core/score';

/** How a round was played, as far as one microphone can tell. */
export function TakeReport({ arrangement, take }: { arrangement: Arrangement; take: Take }) {
  const right = take.moments.filter(({ verdict }) => verdict === 'right').length;
  const others = take.moments.filter(({ verdict }) => verdict !== 'right');
  const together = take.moments.some(({ midi }) => midi === undefined);
  return (
    <section aria-label="What was heard">
      <Text fw={600} role="status">
        {right} of {take.moments.length} right{isClean(take) ? ': clean' : ''}
        {take.extra > 0 && `, ${take.extra} more than written`}
      </Text>
      {others.length > 0 && (
        <ul>
          {others.slice(0, 8).map(own => (
            <li key={`${own.measure} ${own.tick} ${own.time}`}>
              {placeName(arrangement, own.measure, own.tick)}: {wordsOf(own)}
            </li>
          ))}
          {others.length > 8 && <li>and {others.length - 8} more</li>}
        </ul>
      )}
      {together && (
        <Text size="sm" c="dimmed">
          Where several strings are struck together only the beginning and the bass are judged, and the bass
          only where it is heard long enough: the notes between can’t be told from each other.
        </Text>
      )}
    </section>
  );
}

function wordsOf({ verdict, off = 0, heard, midi, bass }: Judged): string {
  const name = (note: number) => pitchName(spellMidi(Math.round(note), 0), true);
  switch (verdict) {
    case 'wrong':
      if (heard === undefined) return 'another note';
      if (bass !== undefined) return `the bass is ${name(heard)} instead of ${name(bass)}`;
      return midi === undefined ? 'another note' : `${name(heard)} instead of ${name(midi)}`;
    case 'missed':
      return 'not heard';
    case 'late':
    case 'early':
      return `${verdict} by ${Math.abs(off).toFixed(2)} s`;
    default:
      return 'right';
  }
}
