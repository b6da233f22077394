import { Group, Text, Textarea, Title } from '@mantine/core';
import { useDeferredValue, useMemo, useRef, useState } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import { takenKey } from '#core/capo';
import { withKindOfTitle } from '#core/formats/fields';
import { readSong, type SongReading, setupSaid, withHead } from '#core/formats/song';
import { standardSetup } from '#core/instrument';
import { keyName, transposeKey } from '#core/pitch';
import { beatsPerMinute, meterName } from '#core/time';
import { hasMelody, type Rights, rereadTune, sheetOf, type Tune, transposeTune } from '#core/tune';
import { copyOf } from '../../data/copies';
import { useStoreChange } from '../../data/queries';
import { newId, save } from '../../data/store';
import { settlePlan } from '../../engine/useTunePlan';
import { BusyButton } from '../../parts/BusyButton';
import { Choice } from '../../parts/Choice';
import { DraftTrouble, useDraft } from '../../parts/draft';
import { unusualSetup } from '../../parts/instruments';
import { Masthead } from '../../parts/Masthead';
import { WordSheet } from '../../parts/paper/WordSheet';
import { Stave } from '../../parts/ribbon/Stave';
import { RIGHTS_CHOICES } from '../../parts/rights';
import { StrumArrows } from '../../parts/shape/StrumArrows';
import { Remarks } from '../../parts/TextReport';
import common from '../../theme/common.module.css';
import styles from './AddTune.module.css';

const EXAMPLE = `title: Lamp in the Window
capo: 3
tempo: 92
strum: D DU UDU

Verse 1
G                 Em
Leave a lamp in the window low
C               D
I am late upon the road

Chorus x2:
C G Am D`;

/** A song goes in as its chords and words: typed, pasted or dropped; read while it is typed. Also corrects a song's source. */
export function AddSong({ existing }: { existing?: Tune }) {
  const navigate = useNavigate();
  const location = useLocation();
  const given = (location.state as { song?: string } | null)?.song;
  const [source] = useState(() => existing && withHead(given ?? existing.song ?? '', existing));
  const { text, setText, unkept, forget } = useDraft(
    'draft-song',
    // A source that comes from another screen, such as one with a melody, is looked at before it is kept.
    source ?? given,
    !existing,
  );
  const [rights, setRights] = useState<Rights>(existing?.rights ?? 'unknown');
  const field = useRef<HTMLTextAreaElement>(null);
  const typed = useDeferredValue(text ?? '');
  const reading = useMemo(() => (typed.trim() ? readSong(typed) : undefined), [typed]);

  const keep = useStoreChange(async () => {
    const { tune, ...rest } = readSong(text ?? '');
    if (!tune) return;
    if (existing) {
      const copy = copyOf('tunes', existing.id);
      const now = { ...rereadTune(existing, tune), rights };
      copy.replace(now);
      await copy.save();
      await keepPlan(now, tune, rest, readSong(existing.song ?? ''));
      navigate(`/tune/${existing.id}`);
      return;
    }
    const id = newId();
    const now = withKindOfTitle({ ...tune, id, rights });
    await save('tunes', now, undefined);
    await keepPlan(now, tune, rest);
    await forget();
    navigate(`/tune/${id}`);
  });
  const goTo = (line: number) => {
    const area = field.current;
    if (!area || text === undefined) return;
    const lines = text.split('\n');
    const from = lines.slice(0, line - 1).reduce((sum, own) => sum + own.length + 1, 0);
    area.focus();
    area.setSelectionRange(from, from + (lines[line - 1]?.length ?? 0));
  };
  return (
    <div className={common.frame}>
      <Masthead
        title={existing ? `Source of ${existing.title}` : 'Add a song'}
        under="its chords and words, as you would write them down"
        rail={{ tuneId: existing?.id }}
      />
      <main className={common.page}>
        <div className={common.columns}>
          <div className={styles.abcField}>
            <Textarea
              ref={field}
              label="Chords and words"
              description="Chords over the words, in brackets in them, or alone in a line. ChordPro is read too. What you type is kept."
              placeholder={EXAMPLE}
              autosize
              minRows={18}
              maxRows={30}
              spellCheck={false}
              styles={{ input: { fontFamily: 'var(--mono)' } }}
              value={text ?? ''}
              onChange={event => setText(event.currentTarget.value)}
            />
            <HowToWrite />
          </div>
          <div className={`${common.panel} ${common.stack}`} aria-live="polite">
            <Title order={2}>What was understood</Title>
            <DraftTrouble unkept={unkept} error={keep.error} />
            {!reading && (
              <Text c="dimmed">Nothing yet. A line of chords such as “G Em C D x3” is enough.</Text>
            )}
            {reading && <Understood reading={reading} onGoTo={goTo} />}
            {reading?.hasTab && !existing && (
              <Text size="sm">
                Rows of strings are a tab:{' '}
                <Link to="/new" state={{ text }} style={{ color: 'var(--spruce)' }}>
                  begin a piece with it
                </Link>
                .
              </Text>
            )}
            <Group align="end">
              <Choice label="Rights" options={RIGHTS_CHOICES} value={rights} onChange={setRights} />
              <BusyButton
                color="marigold.6"
                disabled={!reading?.tune}
                busy={keep.isPending}
                onClick={() => keep.mutate()}
              >
                {existing ? 'Keep the new source' : 'Put it on the shelf'}
              </BusyButton>
            </Group>
          </div>
        </div>
      </main>
    </div>
  );
}

/** What a song's text says of capo, shapes and strum goes into the plan of its tune. */
async function keepPlan(
  kept: Tune,
  asRead: Tune,
  read: Omit<SongReading, 'tune'>,
  before?: SongReading,
): Promise<void> {
  const { choices, strum, sectionPatterns } = read;
  const held = ({ instrument, tuning, capo }: Omit<SongReading, 'tune'>) =>
    JSON.stringify([instrument, tuning, capo]);
  const otherwise = !before || held(before) !== held(read);
  // A song that was read again keeps the ids of its chords: they follow each other in the same order.
  const own = kept.measures.flatMap(measure => measure.chords.map(({ id }) => id));
  const readIds = asRead.measures.flatMap(measure => measure.chords.map(({ id }) => id));
  // Sections likewise.
  const ownSections = kept.measures.flatMap(measure => measure.section?.id ?? []);
  const readSections = asRead.measures.flatMap(measure => measure.section?.id ?? []);
  const patterns = Object.entries(sectionPatterns).map(([id, pattern]) => [
    ownSections[readSections.indexOf(id)]!,
    pattern,
  ]);
  const shapes = Object.entries(choices).map(([id, shape]) => [own[readIds.indexOf(id)]!, shape]);
  if (!otherwise && !shapes.length && !strum && !patterns.length) return;
  await settlePlan(kept.id, plan => ({
    ...plan,
    ...(otherwise && takenKey({ ...plan, setup: setupSaid(read, plan.setup) })),
    choices: { ...(otherwise ? {} : plan.choices), ...Object.fromEntries(shapes) },
    ...(strum && { pattern: strum.pattern }),
    ...(patterns.length && { sectionPatterns: Object.fromEntries(patterns) }),
  }));
}

function Understood({ reading, onGoTo }: { reading: SongReading; onGoTo: (line: number) => void }) {
  const { tune, capo, strum, questions, guesses, leftOut } = reading;
  const setup = setupSaid(reading, standardSetup('guitar'));
  return (
    <>
      {tune && (
        <>
          <Text size="sm">
            <strong>{tune.title}</strong>
            {tune.composer && `, ${tune.composer}`} · {[...unusualSetup(setup), ''].join(' · ')}
            {tune.rhythm && `${tune.rhythm} · `}
            {keyName(transposeKey(tune.key, -capo))} shapes,{' '}
            {capo ? `capo ${capo}, sounds ${keyName(tune.key)}` : 'no capo'} · {meterName(tune.meter)},{' '}
            {Math.round(beatsPerMinute(tune.meter, tune.quartersPerMinute))} beats a minute
          </Text>
          <Text size="sm">
            {sheetOf(tune)
              .map(({ section, times }) => `${section.name}${times > 1 ? ` ×${times}` : ''}`)
              .join(' · ')}
          </Text>
          {strum && <StrumArrows pattern={strum.pattern} meter={tune.meter} strings={setup.tuning.length} />}
        </>
      )}
      <Remarks title="To be answered first" remarks={questions} tone="ask" onGoTo={onGoTo} />
      <Remarks title="Taken to be meant" remarks={guesses} tone="guess" onGoTo={onGoTo} />
      <Remarks title="Left out" remarks={leftOut} tone="lost" onGoTo={onGoTo} />
      {tune && (
        <section aria-label="The song as it is read" style={{ maxHeight: 420, overflowY: 'auto' }}>
          <WordSheet tune={tune} capo={capo} names="shape" strums={reading.sectionPatterns} />
        </section>
      )}
      {tune && hasMelody(tune) && <Stave tune={transposeTune(tune, -capo)} />}
    </>
  );
}

const WAYS: [string, string][] = [
  ['title: by: capo: key: meter: tempo:', 'what is known of the song, each on a line of its own'],
  ['instrument: mandolin · tuning: D A D G A D', 'where it is no guitar, or tuned otherwise'],
  [
    'strum: D DU UDU',
    'down on the beats, up between them; B the bass string, X damped, C chopped; or strings: B 3 2 3',
  ],
  ['strum: B DU UDU', 'under the heading of a part: its own'],
  ['Verse 1 · Chorus x2 · [Bridge]', 'a part begins; its name alone plays it again'],
  ['G Em C D x3', 'a measure a chord, the line three times'],
  [
    '| G . C D | % |',
    'between bars the chords share the measure; a dot holds, % is the measure before again',
  ],
  ['(C D)  G -  <C', 'two in one measure; held on; an eighth early'],
  ['each: half a measure', 'how long a chord lasts where no bar says it (also 2 measures, 2 beats)'],
  ['[G]Down by the [C]river', 'chords in the words'],
  ['x32010', 'a grip in the place of a name'],
  ['1 5 6m 4 · I V vi IV', 'numbers in the place of names; the key is said above'],
  ['H Fis d · key: h-Moll', 'German names; a small letter beside capitals is a minor chord'],
  ['Solo: as the verse, but the last measure: D7', 'a part as another, with another end'],
  ['last time stop here', 'under the line where the song ends; or “last time to the coda”'],
  ['slow down · slow down to 60', 'under a line: its last two measures'],
  ['tempo: 72', 'under the heading of a part: its own'],
  ['melody: B2 d2 e2 c2 | d3 c B4', 'under the chords of a part: its notes in ABC, a plain letter an eighth'],
];

function HowToWrite() {
  return (
    <details>
      <summary>How to write it</summary>
      <table className={common.names} style={{ marginTop: 6 }}>
        <tbody>
          {WAYS.map(([written, meaning]) => (
            <tr key={written}>
              <th scope="row" style={{ fontFamily: 'var(--mono)', fontWeight: 500, verticalAlign: 'top' }}>
                {written}
              </th>
              <td style={{ border: 0, fontFamily: 'inherit', fontWeight: 400, textAlign: 'left' }}>
                {meaning}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}
