import { SegmentedControl } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import { type ComponentProps, useMemo } from 'react';
import { chordLabel } from '#core/chord';
import { RIGHTS_TEXT } from '#core/formats/rights';
import { INSTRUMENTS } from '#core/instrument';
import { type Arrangement, type ScoreChord, shapePlacements, TECHNIQUE_KINDS, TECHNIQUES } from '#core/score';
import { beatsPerMinute } from '#core/time';
import { writtenOut } from '#core/timeline';
import { formOf, formWords } from '#core/tune';
import { capital } from '#core/words';
import { useArrangements, useCopy } from '../../data/queries';
import { Choice } from '../../parts/Choice';
import { ArrangementGate } from '../../parts/Gates';
import { LessonSheet } from '../../parts/paper/LessonSheet';
import { NeckSheet } from '../../parts/paper/NeckSheet';
import { PaperScreen } from '../../parts/paper/PaperScreen';
import { LeftHandedPictures, NamesOnPaper, PaperSwitch } from '../../parts/paper/PaperTools';
import { CAUTION, capoFact } from '../../parts/paper/paper';
import { useSheet } from '../../parts/paper/useSheet';
import { RemarkList } from '../../parts/RemarkList';
import { BesideRibbon } from '../../parts/ribbon/BesideRibbon';
import { LanesMenu } from '../../parts/ribbon/LanesMenu';
import { type ChordNames, mayBarre, type ShownLanes, USUAL_LANES } from '../../parts/ribbon/measureLayout';
import { Ribbon } from '../../parts/ribbon/Ribbon';
import { ShapePicture } from '../../parts/shape/ShapePicture';
import styles from './Handout.module.css';

export function HandoutScreen() {
  return <ArrangementGate>{({ arrangement }) => <Handout arrangement={arrangement} />}</ArrangementGate>;
}

/** Smaller than on the screen, still large at arm's length on a stand. */
const PAPER_SCALE = 0.93;
/** For large print. */
const LARGE_SCALE = 1.3;
const LARGE_LETTERS = 1.3;
/** Pixels for a millimetre of the neck in the pictures of grips. */
const PICTURE_SCALE = 0.85;

/** The paper a pupil takes home. */
function Handout({ arrangement: folded }: { arrangement: Arrangement }) {
  const [chosen, choose] = useSheet(folded.id, USUAL_SHEET);
  const { out, sheet, words, moves, staff, rhythm, rests, large, beside } = chosen;
  const others = (useArrangements(folded.tuneId).data ?? []).filter(({ id }) => id !== folded.id);
  const arrangement = useMemo(() => (out ? writtenOut(folded) : folded), [out, folded]);
  const [names, setNames] = useLocalStorage<ChordNames>({ key: 'chord-names', defaultValue: 'both' });
  const outline = useCopy('outlines', folded.id)[0].history?.present;
  const { setup, measures } = arrangement;
  const beats = beatsPerMinute(measures[0]!.meter, arrangement.quartersPerMinute);
  const grips = useMemo(() => {
    const found = new Map<string, ScoreChord>();
    for (const chord of measures.flatMap(m => m.chords))
      if (chord.frets && !found.has(chord.shape)) found.set(chord.shape, chord);
    return [...found.values()];
  }, [measures]);
  const shown = ON_PAPER.filter(lane => chosen[`lane-${lane}`]).join(' ');
  const lanes = useMemo((): ShownLanes => {
    const own = Object.fromEntries(ON_PAPER.map(lane => [lane, shown.split(' ').includes(lane)]));
    return { ...USUAL_LANES, ...own, staff, rhythm, rests };
  }, [shown, staff, rhythm, rests]);
  const everyMeasure = measures.map((_, i) => i);
  const instrument = INSTRUMENTS[setup.instrument];
  const tuning = [...setup.tuning]
    .reverse()
    .map(p => p.replace(/-?\d/, ''))
    .join(' ');
  const foot = (
    <>
      <RemarkList arrangement={arrangement} measures={everyMeasure} whole />
      <footer>
        {RIGHTS_TEXT[arrangement.rights]}.{' '}
        {sheet === 'tab' ? (
          <>
            Filled round pegs are the melody, square ones the bass; a line behind a number shows how long the
            note rings; a number in brackets sounds on and is not plucked again. {signWords(measures)}
          </>
        ) : (
          SHEET_WORDS[sheet]
        )}
        Fingers: 1 index to 4 little; p thumb, i index, m middle, a ring. Strings are counted from 1, the
        thinnest. {CAUTION}
      </footer>
    </>
  );
  return (
    <PaperScreen
      title={arrangement.title}
      under="Handout"
      rail={{ tuneId: arrangement.tuneId, arrangementId: arrangement.id }}
      sheet={
        <SegmentedControl
          value={sheet}
          onChange={value => choose('sheet', value)}
          data={[
            { value: 'tab', label: 'Tab' },
            { value: 'neck', label: 'Neck sheet' },
            { value: 'lesson', label: 'Lesson' },
          ]}
          aria-label="Sheet"
        />
      }
      tools={
        <>
          <NamesOnPaper value={names} onChange={setNames} />
          {sheet === 'neck' && (
            <>
              <PaperSwitch
                label="Moves between grips"
                value={moves}
                onChange={value => choose('moves', value)}
              />
              <LeftHandedPictures />
            </>
          )}
          {sheet === 'lesson' && (
            <PaperSwitch label="What the hands do" value={words} onChange={value => choose('words', value)} />
          )}
          {sheet === 'tab' && (
            <>
              {others.length > 0 && (
                <Choice
                  aria-label="Under it, measure by measure"
                  options={[
                    { value: '', label: 'alone' },
                    ...others.map(own => ({ value: own.id, label: `under it: ${own.name ?? own.label}` })),
                  ]}
                  value={beside}
                  onChange={value => choose('beside', value)}
                />
              )}
              <PaperSwitch label="Staff" value={staff} onChange={value => choose('staff', value)} />
              <PaperSwitch label="Rhythm" value={rhythm} onChange={value => choose('rhythm', value)} />
              {(staff || rhythm) && (
                <PaperSwitch
                  label="Rests instead of ties"
                  value={rests}
                  onChange={value => choose('rests', value)}
                />
              )}
              <LanesMenu
                lanes={lanes}
                without={NOT_ON_PAPER}
                onLane={(lane, shown) => choose(`lane-${lane}` as PaperLane, shown)}
              />
            </>
          )}
          <PaperSwitch label="Repeats written out" value={out} onChange={value => choose('out', value)} />
          <PaperSwitch label="Large print" value={large} onChange={value => choose('large', value)} />
        </>
      }
      facts={[
        instrument.name,
        `strings ${setup.tuning.length} to 1: ${tuning}${instrument.pairs.some(p => p !== undefined) ? ' (pairs)' : ''}`,
        capoFact(setup, measures[0]!.key),
        ...(arrangement.hand.slide ? ['played with a bar that slides on the strings'] : []),
        `form ${formWords(formOf(measures, arrangement.order))}`,
        `${Math.round(beats)} beats a minute at full tempo, begin at ${Math.round(beats * 0.6)}`,
      ]}
      size={large ? LARGE_LETTERS : 1}
    >
      {sheet === 'tab' && grips.length > 0 && (
        <div className={styles.grips}>
          {grips.map(chord => (
            <figure key={chord.shape}>
              <ShapePicture
                setup={setup}
                frets={chord.frets!}
                grip={shapePlacements(chord)}
                scale={PICTURE_SCALE}
              />
              <figcaption>{chordLabel(names === 'sounding' ? chord.sounding : chord.shape)}</figcaption>
              {names === 'both' && setup.capo > 0 && <small>sounds {chordLabel(chord.sounding)}</small>}
            </figure>
          ))}
        </div>
      )}
      {sheet === 'lesson' && outline && (
        <LessonSheet arrangement={arrangement} outline={outline} words={words} foot={foot} />
      )}
      {sheet === 'neck' && (
        <>
          <NeckSheet arrangement={arrangement} names={names} scale={large ? 1.2 : 0.9} moves={moves} />
          {foot}
        </>
      )}
      {sheet === 'tab' && (
        <Tab
          arrangement={arrangement}
          {...(beside && { beside })}
          names={names}
          scale={large ? LARGE_SCALE : PAPER_SCALE}
          shown={lanes}
          foot={foot}
        />
      )}
    </PaperScreen>
  );
}

/** The tab, alone or with that of another arrangement under it. */
function Tab({ beside, ...tab }: { beside?: string } & Omit<ComponentProps<typeof BesideRibbon>, 'beside'>) {
  return beside ? <BesideRibbon beside={beside} {...tab} /> : <Ribbon {...tab} />;
}

/** Which paper it is. */
type Sheet = 'tab' | 'neck' | 'lesson';

/** The papers of a piece for which nothing was chosen yet. */
const ON_PAPER = [
  'words',
  'chords',
  'pictures',
  'fingers',
  'plucks',
  'thumb',
  'degrees',
  'count',
  'difficulty',
] as const;
/** Lanes with a switch of their own; remarks stand below. */
const NOT_ON_PAPER = ['staff', 'rhythm', 'rests', 'remarks'] as const;
/** What a lane of the tab is called among the choices of a paper. */
type PaperLane = `lane-${(typeof ON_PAPER)[number]}`;

const USUAL_SHEET = {
  ...(Object.fromEntries(ON_PAPER.map(lane => [`lane-${lane}`, USUAL_LANES[lane]])) as Record<
    PaperLane,
    boolean
  >),
  sheet: 'tab' as Sheet,
  out: false,
  words: true,
  moves: false,
  staff: false,
  rhythm: false,
  rests: false,
  large: false,
  /** Id of the arrangement that stands under it. */
  beside: '',
};

/** What stands on papers without tab, explained. */
const SHEET_WORDS: Record<Exclude<Sheet, 'tab'>, string> = {
  neck: 'Numbers under a picture are the strings to pluck, in order; those in brackets together; ↓ ↑ a strum down or up over all that sounds. ○ open, × not played. ',
  lesson: 'Tick a tempo when the step was clean three times in a row at it. ',
};

/** What the further signs on this paper mean; nothing about those that are not on it. */
function signWords(measures: Arrangement['measures']): string {
  const notes = measures.flatMap(measure => measure.notes);
  const techniques = notes.flatMap(note => note.techniques ?? []);
  const signs: [used: boolean, words: string][] = [
    [
      measures.some((m, i) => mayBarre(m, measures[i + 1])),
      'B2 with a line is a barre, one finger across several strings at fret 2',
    ],
    [notes.some(n => n.graces), 'small numbers are played quickly before the note'],
    ...TECHNIQUE_KINDS.map((kind): [boolean, string] => [
      techniques.some(t => t.kind === kind) || (kind === 'slide' && notes.some(n => n.graceBy === 'slide')),
      TECHNIQUES[kind].meaning,
    ]),
  ];
  const [first, ...others] = signs.flatMap(([used, words]) => (used ? [words] : []));
  if (!first) return '';
  return `${[capital(first), ...others].join('; ')}. `;
}
