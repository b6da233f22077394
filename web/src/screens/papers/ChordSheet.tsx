import { Alert, Loader, SegmentedControl, TextInput } from '@mantine/core';
import { useState } from 'react';
import { patternSuiting, usualPattern } from '#core/arrange';
import { capoNames, type ProgressionChord } from '#core/capo';
import { chordLabel, parseChord } from '#core/chord';
import { isStrum, parsePattern, patternUnder, silentIn } from '#core/fingering';
import { RIGHTS_TEXT } from '#core/formats/rights';
import { INSTRUMENTS, type Setup, stringName, tuningName } from '#core/instrument';
import { timesWords } from '#core/lesson';
import { type Key, keyFifths, transposeKey } from '#core/pitch';
import { usualSettings } from '#core/score';
import { pluckedBassOf, shapeText } from '#core/shape';
import { measureNumbers, sectionsOf, type Tune } from '#core/tune';
import { useArrangements } from '../../data/queries';
import type { Planned } from '../../engine/useTunePlan';
import { PlannedTuneGate } from '../../parts/Gates';
import { useStringWords } from '../../parts/paper/NeckSheet';
import { PaperScreen } from '../../parts/paper/PaperScreen';
import { LeftHandedPictures } from '../../parts/paper/PaperTools';
import { CAUTION, capoFact } from '../../parts/paper/paper';
import { useSheet } from '../../parts/paper/useSheet';
import { ShapePicture } from '../../parts/shape/ShapePicture';
import { signOf } from '../../parts/shape/StrumArrows';
import common from '../../theme/common.module.css';
import { useProgression } from '../shapes/useProgression';
import { ChangesSheet } from './ChangesSheet';
import styles from './ChordSheet.module.css';

export function ChordSheetScreen() {
  return <PlannedTuneGate>{(tune, planned) => <ChordSheet tune={tune} planned={planned} />}</PlannedTuneGate>;
}

/** The sheet of grips that a pupil takes home: each shape with fingers and the strings to pluck in order. */
function ChordSheet({ tune, planned }: { tune: Tune; planned: Planned }) {
  const { plan, change } = planned;
  const arrangements = useArrangements(tune.id);
  const found = useProgression(tune, plan);
  const [{ sheet }, choose] = useSheet(tune.id, {
    sheet: 'grips' as 'grips' | 'changes' | 'instead' | 'capo',
  });
  const [stringWords, setStringWords] = useStringWords();
  const { setup } = plan;
  const [typed, setTyped] = useState<string>();
  const { school } = usualSettings(setup.instrument);
  const suits = patternSuiting(tune, school, setup.tuning.length)?.pattern;
  const text = typed ?? plan.pattern ?? suits ?? usualPattern(tune.meter, school).text;
  const pattern = parsePattern(text, setup.tuning.length);
  const strokes = 'error' in pattern ? [] : pattern;
  const chords = found.data?.chords ?? [];
  const numbers = measureNumbers(tune.measures);
  const sounding = transposeKey(tune.key, plan.transposition);
  const sections = sectionsOf(tune.measures).map(section => ({
    section,
    chords: chords.filter(c => c.measure >= section.from && c.measure < section.to),
  }));
  const wordsOf = (string: number) => stringWords[`${setup.instrument}/${string}`]?.trim();
  return (
    <PaperScreen
      title={tune.title}
      under="Chord sheet"
      rail={{ tuneId: tune.id, arrangementId: arrangements.data?.[0]?.id }}
      sheet={
        <SegmentedControl
          value={sheet}
          onChange={value => choose('sheet', value)}
          data={[
            { value: 'grips', label: 'Grips' },
            { value: 'changes', label: 'Changes' },
            { value: 'instead', label: 'Instead of' },
            { value: 'capo', label: 'Capo chart' },
          ]}
          aria-label="Sheet"
        />
      }
      tools={
        <>
          {sheet === 'grips' && (
            <TextInput
              label="Strings to pluck, in order"
              description="B bass, A the other bass, digits strings, brackets together, D U strums"
              w={330}
              value={text}
              error={'error' in pattern ? pattern.error : undefined}
              onChange={event => setTyped(event.currentTarget.value)}
              onBlur={() => {
                if (typed !== undefined && !('error' in pattern)) change({ pattern: typed });
              }}
            />
          )}
          <LeftHandedPictures />
        </>
      }
      files={
        <details>
          <summary>My own words for the strings</summary>
          <div className={styles.stringWords}>
            {setup.tuning.map((_, i) => (
              <TextInput
                key={i}
                size="xs"
                label={stringName(setup, i + 1)}
                placeholder={i === 0 ? 'thinnest' : i === setup.tuning.length - 1 ? 'thickest' : ''}
                value={wordsOf(i + 1) ?? ''}
                onChange={event =>
                  setStringWords({
                    ...stringWords,
                    [`${setup.instrument}/${i + 1}`]: event.currentTarget.value,
                  })
                }
              />
            ))}
          </div>
        </details>
      }
      facts={[INSTRUMENTS[setup.instrument].name, `tuning ${tuningName(setup)}`, capoFact(setup, sounding)]}
    >
      {found.isPending && <Loader />}
      {found.error && <Alert color="cranberry">{found.error.message}</Alert>}
      {found.data && sections.every(s => !s.chords.length) && (
        <p>This tune has no chords yet: they are written over its notes, or suggested on its Tune screen.</p>
      )}
      {sheet === 'capo' && (
        <CapoTable
          shapes={[...new Set(chords.map(chord => chord.shape))]}
          sounding={sounding}
          capo={setup.capo}
        />
      )}
      {sheet === 'changes' && found.data && <ChangesSheet chords={chords} setup={setup} numbers={numbers} />}
      {sheet === 'instead' && <InsteadOf chords={chords} setup={setup} />}
      {sheet === 'grips' &&
        sections
          .filter(s => s.chords.length)
          .map(({ section, chords: inSection }) => (
            <section key={section.from} className={styles.sheetSection}>
              <h2>
                {section.name}
                {section.passes > 1 && <small> {timesWords(section.passes)}</small>}
              </h2>
              <div className={styles.sheetGrips}>
                {inSection.map(chord => (
                  <SheetGrip
                    key={chord.ids[0]}
                    chord={chord}
                    setup={setup}
                    measure={numbers[chord.measure]!}
                    strokes={strokes}
                  />
                ))}
              </div>
            </section>
          ))}
      <footer>
        {RIGHTS_TEXT[tune.rights]}. Strings:{' '}
        {setup.tuning
          .map(
            (_, i) =>
              `${stringName(setup, i + 1).replace('string ', '')}${wordsOf(i + 1) ? ` (${wordsOf(i + 1)})` : ''}`,
          )
          .reverse()
          .join('; ')}
        .{' '}
        {sheet === 'grips' &&
          'Numbers under a picture are the strings to pluck, in order; those in brackets together. '}
        {strokes.some(isStrum) &&
          sheet === 'grips' &&
          '↓ down, ↑ up, ⇣ the thin strings brushed, ✕ damped, ↧ stopped at once. '}
        Fingers: 1 index to 4 little, T thumb over the neck; × not played, ○ open. {CAUTION}
      </footer>
    </PaperScreen>
  );
}

/** Other ways to hold a chord on the sheet, beside the chosen one. */
const INSTEAD = 4;

/** Each chord held in several ways: the chosen one first, then the others from the nut upwards. */
function InsteadOf({ chords, setup }: { chords: readonly ProgressionChord[]; setup: Setup }) {
  const each = [...new Map(chords.map(chord => [chord.shape, chord])).values()];
  return each.map(({ shape, sounding, chosen, candidates }) => {
    const own = chosen && shapeText(chosen.frets);
    const others = candidates
      .filter(({ frets }) => shapeText(frets) !== own)
      .slice(0, INSTEAD)
      .sort((a, b) => lowestOf(a.frets) - lowestOf(b.frets));
    return (
      <section key={shape} className={styles.sheetSection}>
        <h2>
          {chordLabel(shape)}
          {setup.capo > 0 && <small> sounds {chordLabel(sounding)}</small>}
        </h2>
        <div className={styles.sheetGrips}>
          {[...(chosen ? [chosen] : []), ...others].map((way, i) => (
            <figure key={shapeText(way.frets)}>
              <small>
                {chosen && i === 0
                  ? 'as chosen'
                  : `instead${lowestOf(way.frets) > 1 ? `, from fret ${lowestOf(way.frets)}` : ''}`}
              </small>
              <ShapePicture setup={setup} frets={way.frets} grip={way.grip} scale={0.9} />
              <div className={styles.strokes}>{shapeText(way.frets)}</div>
            </figure>
          ))}
        </div>
      </section>
    );
  });
}

const lowestOf = (frets: readonly (number | null)[]) =>
  Math.min(...frets.filter((fret): fret is number => fret !== null && fret > 0), 99);

/** Frets of the chart that is pinned to the wall. */
const CHART = Array.from({ length: 9 }, (_, i) => i + 1);

/** What the shapes of a song sound at each capo; the column of its own capo stands out. */
function CapoTable({ shapes, sounding, capo }: { shapes: readonly string[]; sounding: Key; capo: number }) {
  const usual = ['C', 'A', 'G', 'E', 'D', 'F', 'Am', 'Em', 'Dm', 'Bm'];
  const rows = [...shapes, ...usual.filter(shape => !shapes.includes(shape))];
  return (
    <table className={styles.capoTable}>
      <caption>Shapes down, capo across: what then sounds.</caption>
      <thead>
        <tr>
          <th scope="col">Shape</th>
          {CHART.map(fret => (
            <th key={fret} scope="col" className={fret === capo ? styles.own : ''}>
              {fret}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(shape => (
          <tr key={shape}>
            <th scope="row">{chordLabel(shape)}</th>
            {CHART.map(fret => {
              const key = transposeKey(sounding, fret - capo);
              return (
                <td key={fret} className={fret === capo ? styles.own : ''}>
                  {chordLabel(capoNames([shape], fret, keyFifths(key))[0]?.sounding ?? '')}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function SheetGrip({
  chord,
  setup,
  measure,
  strokes,
}: {
  chord: ProgressionChord;
  setup: Setup;
  measure: number;
  strokes: Parameters<typeof patternUnder>[0];
}) {
  const { chosen } = chord;
  const named = parseChord(chord.shape);
  const silent = chosen ? silentIn(strokes, chosen.frets) : [];
  const under =
    chosen && patternUnder(strokes, chosen.frets, named && pluckedBassOf(chosen.frets, named, setup));
  return (
    <figure>
      <figcaption>
        {chordLabel(chord.shape)}
        {setup.capo > 0 && <small> sounds {chordLabel(chord.sounding)}</small>}
      </figcaption>
      <small>{measure === 0 ? 'pickup' : `measure ${measure}`}</small>
      {chosen && under ? (
        <>
          <ShapePicture setup={setup} frets={chosen.frets} grip={chosen.grip} scale={0.95} />
          <div className={styles.strokes}>
            {strokes
              .map((stroke, i) => signOf(isStrum(stroke) ? stroke : { ...stroke, play: under[i]! }))
              .join(' ')}
          </div>
          {silent.length > 0 && (
            <small>
              string{silent.length > 1 ? 's' : ''} {silent.join(', ')} silent here
            </small>
          )}
          <span className={common.visuallyHidden}>{shapeText(chosen.frets)}</span>
        </>
      ) : (
        <p>no shape</p>
      )}
    </figure>
  );
}
