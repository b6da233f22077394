/**
 * MusicXML with the habits of the programs that write it (common practice; the elements as the MusicXML 4.0 of the W3C
 * Music Notation Community Group explains them).
 */
import { describe, expect, it } from 'vitest';
import { keyName, pitchName } from '../../pitch';

import { sourceChanges } from '../../score';
import { suggestChords } from '../../tune';
import { readMusicXml } from '.';

const QUARTER = 10080;

const document = (...parts: [name: string, measures: string[]][]) =>
  `<?xml version="1.0"?><score-partwise version="4.0"><part-list>${parts
    .map(([name], i) => `<score-part id="P${i}"><part-name>${name}</part-name></score-part>`)
    .join('')}</part-list>${parts
    .map(
      ([, measures], i) =>
        `<part id="P${i}">${measures.map((own, m) => `<measure number="${m + 1}">${own}</measure>`).join('')}</part>`,
    )
    .join('')}</score-partwise>`;
/** Beginning of a part that says no mode. */
const begin = (fifths: number, more = '') =>
  `<attributes><divisions>1</divisions><key><fifths>${fifths}</fifths></key><time><beats>3</beats><beat-type>4</beat-type></time>${more}</attributes>`;
const pitch = (name: string) =>
  `<pitch><step>${name[0]}</step>${name[1] === '#' ? '<alter>1</alter>' : ''}<octave>${name.at(-1)}</octave></pitch>`;
const note = (name: string, ticks = 1, more = '') =>
  `<note>${pitch(name)}<duration>${ticks}</duration><voice>1</voice>${more}</note>`;
const placed = (name: string, string: number, fret: number) =>
  note(
    name,
    1,
    `<notations><technical><string>${string}</string><fret>${fret}</fret></technical></notations>`,
  );
const rest = '<note><rest measure="yes"/><duration>3</duration><voice>1</voice></note>';
const TAB = '<clef><sign>TAB</sign><line>5</line></clef>';
const harmony = (kind: string, text?: string) =>
  `<harmony><root><root-step>E</root-step></root><kind${text === undefined ? '' : ` text="${text}"`}>${kind}</kind></harmony>`;

function read(xml: string) {
  const found = readMusicXml(xml, { tuneId: 't', id: 'x' });
  if (found.error) throw new Error(found.error.message);
  return { ...found, said: found.guesses.map(guess => guess.message).join('; ') };
}
const pitches = (found: ReturnType<typeof read>) =>
  found.tune.measures.map(({ events }) =>
    events.map(event => (event.pitch ? pitchName(event.pitch) : 'z')).join(' '),
  );

describe('chord names', () => {
  it('whose printed text is empty are what their kind says', () => {
    const { tune } = read(
      document(['Voice', [`${begin(0)}${harmony('minor-seventh', '')}${note('G4', 3)}`]]),
    );
    expect(tune.measures[0]!.chords.map(chord => chord.symbol)).toEqual(['Em7']);
  });
  it('“none” says that no chord is played', () => {
    const { tune } = read(
      document(['Voice', [`${begin(0)}${harmony('minor')}${note('G4', 2)}${harmony('none')}${note('G4')}`]]),
    );
    expect(tune.measures[0]!.chords.map(({ start, symbol }) => [start, symbol])).toEqual([
      [0, 'Em'],
      [2 * QUARTER, 'N.C.'],
    ]);
  });
});

describe('a key without a mode', () => {
  const key = (fifths: number, melody: string) => {
    const found = read(
      document([
        'Voice',
        melody.split('|').map(
          (own, i) =>
            `${i ? '' : begin(fifths)}${own
              .trim()
              .split(' ')
              .map(name => note(name))
              .join('')}`,
        ),
      ]),
    );
    return [keyName(found.tune.key), found.said.includes(keyName(found.tune.key))];
  };
  it('is the one that its notes and its end speak for', () => {
    expect(key(1, 'E4 G4 B4 | A4 G4 F#4 | G4 E4 B3 | E4 E4 E4')).toEqual(['E minor', true]);
    expect(key(1, 'G4 B4 D5 | C5 B4 A4 | B4 G4 D4 | G4 G4 G4')).toEqual(['G major', true]);
    // E Dorian: the sixth is C♯.
    expect(key(2, 'E4 B4 B4 | C#5 B4 A4 | G4 F#4 D4 | E4 E4 E4')).toEqual(['E Dorian', true]);
  });
});

describe('measures and tempos', () => {
  it('a sign that the measure before is played again is written out; one with notes of its own is as it stands', () => {
    const again =
      '<attributes><measure-style><measure-repeat type="start">1</measure-repeat></measure-style></attributes>';
    const stop = '<attributes><measure-style><measure-repeat type="stop"/></measure-style></attributes>';
    const found = read(
      document([
        'Guitar',
        [
          `${begin(1)}${note('G4')}${note('A4')}${note('B4')}`,
          `${again}${rest}`,
          rest,
          note('D5', 3),
          `${stop}${rest}`,
        ],
      ]),
    );
    expect(pitches(found)).toEqual(['G4 A4 B4', 'G4 A4 B4', 'G4 A4 B4', 'D5', 'z']);
    expect(found.guesses.find(({ message }) => message.includes('repetition'))?.measures).toEqual([2, 3]);
  });
  it('triplets of it are triplets of their own', () => {
    const third = (name: string) =>
      `<note>${pitch(name)}<duration>1</duration><voice>1</voice><time-modification><actual-notes>3</actual-notes><normal-notes>2</normal-notes></time-modification></note>`;
    const head = begin(0).replace('<divisions>1', '<divisions>3');
    const again =
      '<attributes><measure-style><measure-repeat type="start">1</measure-repeat></measure-style></attributes>';
    const { tune } = read(
      document([
        'Guitar',
        [
          `${head}${'CDE'
            .split('')
            .map(step => third(`${step}4`))
            .join('')}${note('G4', 6)}`,
          `${again}<note><rest measure="yes"/><duration>9</duration><voice>1</voice></note>`,
        ],
      ]),
    );
    const groups = tune.measures.map(
      ({ events }) => new Set(events.flatMap(event => event.tuplets?.[0]?.group ?? [])),
    );
    expect(groups.map(own => own.size)).toEqual([1, 1]);
    expect([...groups[0]!]).not.toEqual([...groups[1]!]);
  });
  it('two measures that are played again; a sign that says nonsense means one', () => {
    const again = (count: string) =>
      `<attributes><measure-style><measure-repeat type="start">${count}</measure-repeat></measure-style></attributes>`;
    const played = (count: string) =>
      pitches(
        read(
          document([
            'Guitar',
            [`${begin(0)}${note('C4', 3)}`, note('E4', 3), `${again(count)}${rest}`, rest],
          ]),
        ),
      );
    expect(played('2')).toEqual(['C4', 'E4', 'C4', 'E4']);
    expect(played('0.5')).toEqual(['C4', 'E4', 'E4', 'E4']);
  });
  it('a tempo about or between numbers', () => {
    const tempo = (said: string) => {
      const metronome = `<direction><direction-type><metronome><beat-unit>quarter</beat-unit><per-minute>${said}</per-minute></metronome></direction-type></direction>`;
      const found = read(document(['Voice', [`${begin(0)}${metronome}${note('C4', 3)}`]]));
      return [found.tune.quartersPerMinute, found.said.includes(said)];
    };
    expect(tempo('96')).toEqual([96, false]);
    expect(tempo('c. 92')).toEqual([92, true]);
    expect(tempo('88–96')).toEqual([92, true]);
  });
});

describe('tablature', () => {
  const lick = [placed('B3', 2, 0), placed('D4', 2, 3), placed('G4', 1, 3)];
  it('that says no tuning is for the strings that its pitches lie on', () => {
    const guitar = read(document(['Part 1', [`${begin(1, TAB)}${lick.join('')}`]]));
    expect(guitar.arrangement!.setup).toMatchObject({ instrument: 'guitar', capo: 0 });
    expect(guitar.said).toContain('Guitar, Standard');
    const mandolin = read(
      document([
        'Part 1',
        [`${begin(1, TAB)}${placed('B4', 2, 2)}${placed('D5', 2, 5)}${placed('G5', 1, 3)}`],
      ]),
    );
    expect(mandolin.arrangement!.setup.instrument).toBe('mandolin');
    const lowered = read(
      document([
        'Part 1',
        [`${begin(1, TAB)}${placed('D2', 6, 0)}${placed('F#3', 4, 4)}${placed('A3', 2, 0)}`],
      ]),
    );
    expect(lowered.arrangement!.setup.tuning.join(' ')).toBe('D4 A3 G3 D3 A2 D2');
  });
  it('over a capo whose pitches are those of the shapes: the tune is where it sounds, said once', () => {
    const capo = '<staff-details><staff-lines>6</staff-lines><capo>2</capo></staff-details>';
    const found = read(
      document(['Guitar', [`${begin(1, `${TAB}${capo}`)}${harmony('minor')}${lick.join('')}`]]),
    );
    expect(pitches(found)).toEqual(['C#4 E4 A4']);
    expect(found.tune.measures[0]!.chords.map(chord => chord.symbol)).toEqual(['F#m']);
    expect(found.arrangement!.setup.capo).toBe(2);
    expect(found.arrangement!.measures[0]!.notes.map(({ string, fret }) => [string, fret])).toEqual([
      [2, 0],
      [2, 3],
      [1, 3],
    ]);
    expect(found.said.match(/without the capo/g)).toHaveLength(1);
    expect(found.said).not.toContain('disagree');
  });
  it('is an arrangement of the tune as it is: nothing of that was corrected since', () => {
    const notation = `${begin(1)}${harmony('minor')}${note('B3')}${note('D4')}${note('G4')}`;
    const found = read(
      document(['Guitar', [notation, note('A4', 3)]], ['Tab', [`${begin(1, TAB)}${lick.join('')}`, rest]]),
    );
    expect(sourceChanges(found.arrangement!, found.tune)).toBeUndefined();
    expect(found.arrangement!.measures.map(measure => measure.from?.id)).toEqual(
      found.tune.measures.map(measure => measure.id),
    );
  });
  it('written an octave high sounds where its strings are', () => {
    const high = [placed('B4', 2, 0), placed('D5', 2, 3), placed('G5', 1, 3)];
    const lines = '<staff-details><staff-lines>6</staff-lines></staff-details>';
    const found = read(document(['Guitar', [`${begin(1, `${TAB}${lines}`)}${high.join('')}`]]));
    expect(found.arrangement!.setup.instrument).toBe('guitar');
    expect(pitches(found)).toEqual(['B3 D4 G4']);
    expect(found.said).toContain('an octave lower');
  });
  it('beside the same notes as notation is one part, with the chords of either', () => {
    const notation = `${begin(1)}${harmony('minor')}${note('B3')}${note('D4')}${note('G4')}`;
    const found = read(
      document(['Guitar', [notation]], ['Guitar, tab', [`${begin(1, TAB)}${lick.join('')}`]]),
    );
    expect(found.tune.measures[0]!.others).toBeUndefined();
    expect(found.tune.measures[0]!.chords.map(chord => chord.symbol)).toEqual(['Em']);
    expect(found.said).toContain('plays the same notes');
    const other = read(
      document(
        ['Voice', [`${begin(1)}${note('B3')}${note('D4')}${note('A4')}`]],
        ['Guitar', [`${begin(1, TAB)}${lick.join('')}`]],
      ),
    );
    expect(other.tune.measures[0]!.others).toHaveLength(1);
  });
  it('drums are no voice of a tune', () => {
    const drum = `${begin(0)}<note><unpitched><display-step>C</display-step><display-octave>5</display-octave></unpitched><duration>3</duration><voice>1</voice></note>`;
    const found = read(document(['Drums', [drum]], ['Fiddle', [`${begin(0)}${note('C5', 3)}`]]));
    expect(found.tune.measures[0]!.others).toBeUndefined();
    expect(found.leftOut.map(({ message }) => message)).toContain('notes without a pitch');
  });
});

describe('a part of several voices', () => {
  const back = '<backup><duration>3</duration></backup>';
  const left = (name: string, more = '') =>
    note(name, 3, '<staff>2</staff>').replace('<voice>1', '<voice>5').replace('<note>', `<note>${more}`);
  const right = (name: string) => note(name, 1, '<staff>1</staff>');
  const piano = document([
    'Piano',
    [
      `${begin(0, '<staves>2</staves>')}${right('E4')}${right('G4')}${right('E4')}${back}${left('C3')}${left('E3', '<chord/>')}${left('G3', '<chord/>')}`,
      `${right('F4')}${right('A4')}${right('F4')}${back}${left('F3')}${left('A3', '<chord/>')}${left('C4', '<chord/>')}`,
    ],
  ]);
  it('keeps the other hand of a pianist beside the melody, though there is no other part, and chords are heard in it', () => {
    const { tune, leftOut } = read(piano);
    expect(pitches(read(piano))).toEqual(['E4 G4 E4', 'F4 A4 F4']);
    expect(
      tune.measures.map(({ others }) =>
        others!.map(({ events }) =>
          events.map(event => [...event.lower!, event.pitch!].map(own => pitchName(own)).join(' ')),
        ),
      ),
    ).toEqual([[['C3 E3 G3']], [['F3 A3 C4']]]);
    expect(leftOut).toEqual([]);
    expect(suggestChords(tune).measures.map(({ chords }) => chords.map(({ symbol }) => symbol))).toEqual([
      ['C'],
      ['F'],
    ]);
  });
  it('is its melody alone where that is wanted', () => {
    const found = readMusicXml(piano, { tuneId: 't', id: 'x', others: false });
    expect(found.error ?? found.tune.measures.map(({ others }) => others)).toEqual([undefined, undefined]);
  });
  it('has its voices in the arrangement where it is tablature', () => {
    const two = `${begin(0, TAB)}${placed('E4', 1, 0)}${placed('G4', 1, 3)}${placed('E4', 1, 0)}${back}${placed('C3', 5, 3).replace('<voice>1', '<voice>2')}`;
    const { tune, arrangement } = read(document(['Guitar', [two]]));
    expect(arrangement!.measures[0]!.notes.map(({ string, fret }) => [string, fret])).toContainEqual([5, 3]);
    expect(tune.measures[0]!.others).toBeUndefined();
  });
});

it('slashes of a rhythm have no pitch: chords alone are read, and the strokes told', () => {
  const slash = note('B4', 1, '<type>quarter</type><notehead>slash</notehead>');
  const { tune, parts, leftOut } = read(
    document(['Guitar', [`${begin(1)}${harmony('minor')}${slash}${slash}${slash}`]]),
  );
  expect(parts[0]!.notes).toBe(0);
  expect(tune.measures[0]!.events.some(event => event.pitch)).toBe(false);
  expect(tune.measures[0]!.chords.map(chord => chord.symbol)).toEqual(['Em']);
  expect(leftOut.map(({ message }) => message)).toEqual(['slashes: strokes without a pitch']);
});

it('title and composer may stand on the page alone', () => {
  const words = (kind: string, text: string) =>
    `<credit page="1"><credit-type>${kind}</credit-type><credit-words>${text}</credit-words></credit>`;
  const xml = document(['Fiddle', [`${begin(2)}${note('D5', 3)}`]]).replace(
    '<part-list>',
    `${words('page number', '1')}${words('title', 'Harbour\nLights')}${words('composer', 'M. Bell')}<part-list>`,
  );
  expect([read(xml).tune.title, read(xml).tune.composer]).toEqual(['Harbour Lights', 'M. Bell']);
  const titled = xml.replace('<credit page', '<movement-title>Polka</movement-title><credit page');
  expect(read(titled).tune.title).toBe('Polka');
});
