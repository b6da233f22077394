import { Button, Group, Select, Text } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Merged, MergeWay, Part } from '#core/merge';
import type { Pitch } from '#core/pitch';
import { type Arrangement, ROLES, type Role } from '#core/score';
import { hasMelody, secondVoice, type Tune, VOICE_PLACES, type VoicePlace, voiceNames } from '#core/tune';
import { copyOf } from '../../../data/copies';
import { useShelf } from '../../../data/queries';
import { arranger } from '../../../engine/workers';
import { BusyButton } from '../../../parts/BusyButton';
import { Choice } from '../../../parts/Choice';
import common from '../../../theme/common.module.css';

const ROLE_WORDS: Record<Role, string> = {
  melody: 'as melody',
  bass: 'as bass',
  inner: 'as inner notes',
};
const OCTAVES = [
  { value: 1, label: 'an octave higher' },
  { value: 0, label: 'as written' },
  { value: -1, label: 'an octave lower' },
  { value: -2, label: 'two octaves lower' },
];
const WAYS: { value: MergeWay; label: string }[] = [
  { value: 'octave', label: 'goes to another octave' },
  { value: 'other-string', label: 'takes the string of another note, which moves' },
  { value: 'leave-out', label: 'is left out' },
];
/** Most problems that are listed. */
const LISTED = 12;

interface PartsPanelProps {
  arrangement: Arrangement;
  tune: Tune | undefined;
  /** Place of the measure at the cursor, and what it is called. */
  at: number;
  place: string;
  /** Whether what it makes is shown. */
  ready: boolean;
  onPropose: (proposal: Arrangement | undefined) => void;
  onTake: (what: string) => void;
}

/** Another part put into this arrangement: a voice, a tune, an arrangement; what can't be played together is listed. */
export function PartsPanel({ arrangement, tune, at, place, ready, onPropose, onTake }: PartsPanelProps) {
  const shelf = useShelf();
  const [source, setSource] = useState<string | null>(null);
  const [role, setRole] = useState<Role>('bass');
  const [octaves, setOctaves] = useState(0);
  const [way, setWay] = useState<MergeWay>('octave');
  /** Ways chosen for single notes. */
  const [ways, setWays] = useState<Readonly<Record<string, MergeWay>>>({});
  const merge = useMutation({
    networkMode: 'always',
    mutationFn: async (chosen: typeof ways): Promise<Merged> => {
      const part = await readPart(source!, arrangement, tune);
      return arranger().merged(arrangement, part, { at, role, octaves, way, ways: chosen });
    },
    onSuccess: result => {
      setLatest(result);
      onPropose(result.added ? result.arrangement : undefined);
    },
  });
  const change =
    <T,>(set: (value: T) => void) =>
    (value: T) => {
      set(value);
      setWays({});
      merge.reset();
      onPropose(undefined);
    };
  const wayOut = (key: string, chosen: MergeWay) => {
    const next = { ...ways, [key]: chosen };
    setWays(next);
    merge.mutate(next);
  };
  // What was found stays to be read while another way out is tried.
  const [latest, setLatest] = useState<Merged>();
  const found = merge.isPending ? latest : merge.data;
  const voices = tune ? voiceNames(tune) : [];
  const stops = tune?.measures.some(m => m.events.some(event => event.lower?.length));
  const own = [
    ...(stops ? [{ value: 'stops', label: 'The double stops of the source' }] : []),
    ...(tune && hasMelody(tune)
      ? VOICE_PLACES.map(place => ({ value: `second ${place}`, label: `A second voice ${place} the melody` }))
      : []),
    ...voices.map((name, i) => ({
      value: `voice ${i + 1}`,
      label: name ? `Voice ${i + 2} of the source: ${name}` : `Voice ${i + 2} of the source`,
    })),
  ];
  const shelved = shelf.data ?? [];
  return (
    <section aria-label="Parts" className={common.stack}>
      <Text size="sm">
        Put another part under or over this one, from {place.charAt(0).toLowerCase()}
        {place.slice(1)} on. Every note goes where the hand can hold it.
      </Text>
      <Select
        label="Which part"
        placeholder="a voice, a tune, an arrangement"
        searchable
        nothingFoundMessage="Nothing on the shelf is called so"
        data={[
          ...(own.length ? [{ group: 'This tune', items: own }] : []),
          {
            group: 'Melodies',
            items: shelved.map(({ id, title }) => ({ value: `tune ${id}`, label: title })),
          },
          {
            group: 'Arrangements',
            items: shelved.flatMap(({ title, arrangements }) =>
              arrangements
                .filter(entry => entry.id !== arrangement.id)
                .map(({ id, name, label }) => ({
                  value: `arrangement ${id}`,
                  label: `${title}: ${name ?? label}`,
                })),
            ),
          },
        ]}
        value={source}
        onChange={change(setSource)}
      />
      <Group grow>
        <Choice
          label="It is put in"
          options={ROLES.map(value => ({ value, label: ROLE_WORDS[value] }))}
          value={role}
          onChange={change(setRole)}
        />
        <Choice label="It sounds" options={OCTAVES} value={octaves} onChange={change(setOctaves)} />
      </Group>
      <Choice label="What can’t be played" options={WAYS} value={way} onChange={change(setWay)} />
      <Group gap={8}>
        {ready && found ? (
          <>
            <Button color="marigold.6" onClick={() => onTake('another part put in')}>
              Take it
            </Button>
            <Button
              variant="default"
              onClick={() => {
                merge.reset();
                onPropose(undefined);
              }}
            >
              Leave it
            </Button>
          </>
        ) : (
          <BusyButton
            color="marigold.6"
            disabled={!source}
            busy={merge.isPending}
            onClick={() => merge.mutate(ways)}
          >
            Show it
          </BusyButton>
        )}
      </Group>
      <div role="status" aria-live="polite">
        {merge.error && (
          <Text size="sm" c="var(--cranberry)">
            It could not be put in: {merge.error.message}
          </Text>
        )}
        {found && (
          <>
            <Text size="sm">{countWords(found)}</Text>
            <ul>
              {found.problems.slice(0, LISTED).map(({ key, text, others }) => (
                <li key={key}>
                  {text}.
                  {others.map(other => (
                    <Button
                      key={other.words}
                      size="compact-xs"
                      variant="default"
                      ml={6}
                      aria-label={`${text}: rather ${other.words}`}
                      onClick={() => wayOut(key, other.way)}
                    >
                      {other.words}
                    </Button>
                  ))}
                </li>
              ))}
              {found.problems.length > LISTED && <li>and {found.problems.length - LISTED} more</li>}
            </ul>
          </>
        )}
      </div>
      {tune?.song !== undefined && <MelodyByEar tune={tune} arrangement={arrangement} />}
    </section>
  );
}

/** The melody of this arrangement goes into the source of its song, where it is looked at before it is kept. */
function MelodyByEar({ tune, arrangement }: { tune: Tune; arrangement: Arrangement }) {
  const navigate = useNavigate();
  const put = useMutation({
    networkMode: 'always',
    mutationFn: async () => {
      const { withPlayedMelody } = await import('#core/formats/song');
      return withPlayedMelody(tune, arrangement);
    },
    onSuccess: song => navigate(`/tune/${tune.id}/source`, { state: { song } }),
  });
  return (
    <>
      <Text size="sm" mt="md">
        A melody found on the strings can go under the words of the song: what stands here as melody, in the
        place of what the song had.
      </Text>
      <BusyButton variant="default" busy={put.isPending} onClick={() => put.mutate()}>
        Put this melody into the song
      </BusyButton>
      {put.error && (
        <Text size="sm" c="var(--cranberry)" role="alert">
          It could not be put there: {put.error.message}
        </Text>
      )}
    </>
  );
}

function countWords({ added, shared, problems }: Merged): string {
  const words = [`${added} note${added === 1 ? '' : 's'} put in`];
  if (shared) words.push(`${shared} played already`);
  words.push(problems.length ? `${problems.length} not as they stand:` : 'all as they stand.');
  return words.join(', ');
}

/** A tune that has other pitches as its melody. */
const withMelody = (tune: Tune, pitches: ReadonlyMap<string, Pitch>): Tune => ({
  ...tune,
  measures: tune.measures.map(measure => ({
    ...measure,
    events: measure.events.map(({ lower: _lower, pitch: _pitch, ...event }) => {
      const own = pitches.get(event.id);
      return own ? { ...event, pitch: own } : event;
    }),
  })),
});

/** The part that is meant; one of the same tune is moved as the arrangement was. */
async function readPart(source: string, arrangement: Arrangement, tune: Tune | undefined): Promise<Part> {
  const { doubleStopsOf, partOfArrangement, partOfTune } = await import('#core/merge');
  const moved = (arrangement.transposition ?? 0) + arrangement.octaveShift;
  const [kind, id = ''] = source.split(/ (.*)/s);
  if (kind === 'second' && tune) {
    const voice = secondVoice(tune, id as VoicePlace);
    return partOfTune(withMelody(tune, voice), 0, moved);
  }
  if (kind === 'stops' && tune) return doubleStopsOf(tune, moved);
  if (kind === 'voice' && tune) return partOfTune(tune, Number(id), moved);
  if (kind === 'tune') {
    const other = await copyOf('tunes', id).content();
    if (!other) throw new Error('the tune is no longer on the shelf');
    return partOfTune(other, 0, other.id === tune?.id ? moved : 0);
  }
  const other = await copyOf('arrangements', id).content();
  if (!other) throw new Error('the arrangement is no longer on the shelf');
  return partOfArrangement(other);
}
