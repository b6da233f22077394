import { Button, Loader, SegmentedControl, Select } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import { IconPrinter } from '@tabler/icons-react';
import { useMemo } from 'react';
import { useParams } from 'react-router';
import { chordLabel } from '#core/chord';
import { RIGHTS_TEXT } from '#core/formats/rights';
import { INSTRUMENTS } from '#core/instrument';
import { keyName, transposeKey } from '#core/pitch';
import type { Arrangement, ScoreChord } from '#core/score';
import { beatsPerMinute } from '#core/time';
import { formOf } from '#core/tune';
import { useArrangement } from '../data/queries';
import { GripDiagram } from '../parts/GripDiagram';
import { Masthead } from '../parts/Masthead';
import type { ChordNames } from '../parts/measureLayout';
import { PAGE_RULE, type Paper } from '../parts/paper';
import { Ribbon } from '../parts/Ribbon';
import { NotFound } from './NotFound';

export function HandoutScreen() {
  const { arrangementId } = useParams();
  const stored = useArrangement(arrangementId!);
  if (stored.isPending) return <Loader m="xl" />;
  if (!stored.data) return <NotFound what="arrangement" />;
  return <Handout arrangement={stored.data.arrangement} />;
}

/** Smaller than on the screen, still large at arm's length on a stand. */
const PAPER_SCALE = 0.82;

/** The paper a pupil takes home. */
function Handout({ arrangement }: { arrangement: Arrangement }) {
  const [paper, setPaper] = useLocalStorage<Paper>({ key: 'paper', defaultValue: 'a4' });
  const [names, setNames] = useLocalStorage<ChordNames>({ key: 'chord-names', defaultValue: 'both' });
  const { setup, measures } = arrangement;
  const base = `/arrangement/${arrangement.id}`;
  const beats = beatsPerMinute(measures[0]!.meter, arrangement.quartersPerMinute);
  const grips = useMemo(() => {
    const found = new Map<string, ScoreChord>();
    for (const chord of measures.flatMap(m => m.chords))
      if (chord.frets && !found.has(chord.shape)) found.set(chord.shape, chord);
    return [...found.values()];
  }, [measures]);
  const instrument = INSTRUMENTS[setup.instrument];
  const tuning = [...setup.tuning]
    .reverse()
    .map(p => p.replace(/-?\d/, ''))
    .join(' ');
  return (
    <div className="frame">
      <style>{PAGE_RULE[paper]}</style>
      <Masthead
        title={arrangement.title}
        under="Handout"
        rail={{
          tune: `/tune/${arrangement.tuneId}`,
          workbench: base,
          lesson: `${base}/lesson`,
          handout: `${base}/handout`,
        }}
      />
      <div className="paper-tools">
        <SegmentedControl
          value={paper}
          onChange={v => setPaper(v as Paper)}
          data={[
            { value: 'a4', label: 'A4' },
            { value: 'letter', label: 'Letter' },
          ]}
          aria-label="Paper"
        />
        <Select
          aria-label="Names of chords"
          value={names}
          allowDeselect={false}
          onChange={v => v && setNames(v as ChordNames)}
          data={[
            { value: 'shape', label: 'Shape names' },
            { value: 'sounding', label: 'Sounding names' },
            { value: 'both', label: 'Both names' },
          ]}
        />
        <Button color="marigold.6" leftSection={<IconPrinter size={18} />} onClick={() => window.print()}>
          Print
        </Button>
      </div>
      <article className={`paper ${paper}`}>
        <h1>{arrangement.title}</h1>
        <p className="facts">
          {[
            instrument.name,
            `strings ${setup.tuning.length} to 1: ${tuning}${instrument.pairs.some(p => p !== undefined) ? ' (pairs)' : ''}`,
            setup.capo
              ? `capo at fret ${setup.capo}: play ${keyName(transposeKey(measures[0]!.key, -setup.capo))} shapes, sounds ${keyName(measures[0]!.key)}`
              : `no capo, sounds ${keyName(measures[0]!.key)}`,
            `form ${formOf(measures).join(' ')}`,
            `${Math.round(beats)} beats a minute at full tempo, begin at ${Math.round(beats * 0.6)}`,
          ].join(' · ')}
        </p>
        {grips.length > 0 && (
          <div className="grips">
            {grips.map(chord => (
              <figure key={chord.shape}>
                <GripDiagram frets={chord.frets!} fingers={chord.fingers ?? []} />
                <figcaption>{chordLabel(names === 'sounding' ? chord.sounding : chord.shape)}</figcaption>
                {names === 'both' && setup.capo > 0 && <small>sounds {chordLabel(chord.sounding)}</small>}
              </figure>
            ))}
          </div>
        )}
        <Ribbon arrangement={arrangement} names={names} scale={PAPER_SCALE} />
        <footer>
          {RIGHTS_TEXT[arrangement.rights]}. Filled round pegs are the melody, square ones the bass; a line
          behind a number shows how long the note rings; a number in brackets sounds on and is not plucked
          again. {signWords(measures)}Fingers: 1 index to 4 little; p thumb, i index, m middle, a ring.
          Strings are counted from 1, the thinnest. Warm up, rest, and stop at pain or numbness: if it stays,
          see a doctor or physiotherapist.
        </footer>
      </article>
    </div>
  );
}

/** What the further signs on this paper mean; nothing about those that are not on it. */
function signWords(measures: Arrangement['measures']): string {
  const notes = measures.flatMap(measure => measure.notes);
  const signs: [used: boolean, words: string][] = [
    [notes.some(n => n.graces), 'small numbers are played quickly before the note'],
    [notes.some(n => n.into === 'hammer'), 'H is hammered on'],
    [notes.some(n => n.into === 'pull'), 'P is pulled off'],
    [notes.some(n => n.into === 'slide' || n.graceBy === 'slide'), 'a slanting line is a slide'],
    [notes.some(n => n.harmonic), '‹ › is a harmonic'],
    [notes.some(n => n.accent), '> is accented'],
    [notes.some(n => n.dead), 'x is damped'],
  ];
  const [first, ...others] = signs.flatMap(([used, words]) => (used ? [words] : []));
  if (!first) return '';
  return `${[first.charAt(0).toUpperCase() + first.slice(1), ...others].join('; ')}. `;
}
