/**
 * MusicXML 4.0 (W3C Music Notation Community Group) out: one part on two staves, notation above tablature.
 * Pitches are written as they sound; frets are counted from the capo.
 */
import { INSTRUMENTS, writtenOctaves } from '../../instrument';
import { keyFifths, parsePitch } from '../../pitch';
import { type Arrangement, lanesOf, type ScoreMeasure } from '../../score';
import { measureTicks, sameMeter, TICKS_PER_QUARTER } from '../../time';
import { measureNumbers } from '../../tune';
import { RIGHTS_TEXT } from '../rights';
import { element, type Markup, tag } from '../xml';
import { directionsOf } from './directions';
import { linksIn, type NoteContext, writeLane } from './notes';

function attributes(
  arrangement: Arrangement,
  measure: ScoreMeasure,
  before: ScoreMeasure | undefined,
): Markup | undefined {
  const first = before === undefined;
  const key =
    first || keyFifths(before.key) !== keyFifths(measure.key) || before.key.mode !== measure.key.mode;
  const time = first || !sameMeter(before.meter, measure.meter);
  if (!key && !time) return undefined;
  const { setup } = arrangement;
  const strings = setup.tuning.length;
  return tag(
    'attributes',
    first ? tag('divisions', TICKS_PER_QUARTER) : undefined,
    key ? tag('key', tag('fifths', keyFifths(measure.key)), tag('mode', measure.key.mode)) : undefined,
    time
      ? tag(
          'time',
          tag('beats', measure.meter.groups?.join('+') ?? measure.meter.beats),
          tag('beat-type', measure.meter.unit),
        )
      : undefined,
    ...(first
      ? [
          tag('staves', 2),
          element(
            'clef',
            { number: 1 },
            tag('sign', 'G'),
            tag('line', 2),
            writtenOctaves(setup.instrument)
              ? tag('clef-octave-change', -writtenOctaves(setup.instrument))
              : undefined,
          ),
          element('clef', { number: 2 }, tag('sign', 'TAB'), tag('line', strings - 1)),
          element(
            'staff-details',
            { number: 2 },
            tag('staff-lines', strings),
            ...[...setup.tuning].reverse().map((name, index) => {
              const pitch = parsePitch(name)!;
              // Line 1 is the lowest line: the thickest string.
              return element(
                'staff-tuning',
                { line: index + 1 },
                tag('tuning-step', pitch.step),
                pitch.alter ? tag('tuning-alter', pitch.alter) : undefined,
                tag('tuning-octave', pitch.octave),
              );
            }),
            // A partial capo has no element of its own; the sounding pitches tell it.
            setup.capo && !setup.capoStrings ? tag('capo', setup.capo) : undefined,
          ),
        ]
      : []),
  );
}

/**
 * An arrangement as a MusicXML 4.0 score-partwise document. Repeats and endings are kept as written. Every arrangement
 * can be written.
 *
 * @param tell told what could only be written in part: the measure (from 0) and why
 * @example writeMusicXml(arrangement, (measure, reason) => console.log(measure + 1, reason))
 */
export function writeMusicXml(
  arrangement: Arrangement,
  tell: (measure: number, reason: string) => void = () => {},
): string {
  const { measures } = arrangement;
  const links = linksIn(arrangement);
  const numbers = measureNumbers(measures);
  const openWords: boolean[] = [];
  const written = measures.map((measure, index) => {
    const before = measures[index - 1];
    const next = measures[index + 1];
    const fifths = keyFifths(measure.key);
    const sameEnding = (other: ScoreMeasure | undefined) => other?.ending?.join() === measure.ending?.join();
    const left =
      measure.repeatStart || (measure.ending && !sameEnding(before))
        ? element(
            'barline',
            { location: 'left' },
            measure.repeatStart ? tag('bar-style', 'heavy-light') : undefined,
            measure.ending && !sameEnding(before)
              ? element('ending', { number: measure.ending.join(', '), type: 'start' })
              : undefined,
            measure.repeatStart ? element('repeat', { direction: 'forward' }) : undefined,
          )
        : undefined;
    const last = index === measures.length - 1;
    const style =
      measure.repeatEnd || measure.barline === 'final' || last
        ? 'light-heavy'
        : measure.barline === 'double'
          ? 'light-light'
          : undefined;
    const endingStops = measure.ending && (!sameEnding(next) || measure.repeatEnd);
    const right =
      style || endingStops
        ? element(
            'barline',
            { location: 'right' },
            style ? tag('bar-style', style) : undefined,
            endingStops
              ? element('ending', {
                  number: measure.ending!.join(', '),
                  type: measure.repeatEnd || last ? 'stop' : 'discontinue',
                })
              : undefined,
            measure.repeatEnd
              ? element('repeat', { direction: 'backward', times: measure.passes })
              : undefined,
          )
        : undefined;
    const context: NoteContext = {
      arrangement,
      fifths,
      measure,
      links,
      openWords,
      tell: reason => tell(index, reason),
    };
    const lanes = lanesOf(measure);
    const content: Markup[] = [];
    for (const staff of [1, 2] as const)
      for (const [lane, notes] of lanes.entries()) {
        if (content.length) content.push(tag('backup', tag('duration', measure.ticks)));
        // Voices are numbered through both staves, so that none of them meets another's number.
        const voice = lane + 1 + (staff - 1) * lanes.length;
        content.push(...writeLane(context, notes, { voice, staff, leads: lane === 0 }));
      }
    const implicit = measure.ticks < measureTicks(measure.meter) && measure.offset > 0;
    return element(
      'measure',
      { number: numbers[index], implicit: implicit ? 'yes' : undefined },
      left,
      attributes(arrangement, measure, before),
      ...directionsOf(arrangement, measure, index),
      ...content,
      right,
    );
  });
  const instrument = INSTRUMENTS[arrangement.setup.instrument].name;
  const score = element(
    'score-partwise',
    { version: '4.0' },
    tag('work', tag('work-title', arrangement.title)),
    tag(
      'identification',
      arrangement.composer ? element('creator', { type: 'composer' }, arrangement.composer) : undefined,
      tag('rights', RIGHTS_TEXT[arrangement.rights]),
      tag('encoding', tag('software', 'Velvet Porch')),
    ),
    tag('part-list', element('score-part', { id: 'P1' }, tag('part-name', instrument))),
    element('part', { id: 'P1' }, ...written),
  );
  return `<?xml version="1.0" encoding="UTF-8"?>\n<!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 4.0 Partwise//EN" "http://www.musicxml.org/dtds/partwise.dtd">\n${score.text}\n`;
}
