import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseChord } from '../chord';
import { readAbc } from '../formats/abc';
import { DEFAULT_HAND, isBarre, reachBetween, stretchOf } from '../hand';
import { standardSetup } from '../instrument';
import { midiOf, mod12, pitchClassOf } from '../pitch';
import { chosenShape, type Shape, shapeText, unusualEffort } from '../shape';
import { committeeTunes } from '../testing/committee';
import { oneIn } from '../testing/setup';
import { tunes } from '../testing/tunes';
import { melodyNotes, melodyRange, type Tune, transposeTune } from '../tune';
import {
  bandView,
  capoChart,
  capoNames,
  freshPlan,
  otherTuning,
  planCapo,
  planKeys,
  planShapes,
  smallestCapoFor,
  stretchByCapo,
  takenKey,
  VOICE_TYPES,
  voiceLie,
  wayBack,
} from './index';

const guitar = standardSetup('guitar');
const tune = (key: string, body: string, meter = '4/4') =>
  readAbc(`X:1\nT:T\nM:${meter}\nL:1/4\nK:${key}\n${body}\n`)[0]!.tune;
const song = tune('G', '"G"GBdB|"C"ceGc|"D"dfaf|"G"G4|"Em"EGBG|"C"ceGc|"D7"dfad|"G"G4|]');

it('a song of chords alone has no word of a melody or a voice among its reasons', () => {
  const chords = tune('C', '"C"z4|"F"z4|"G7"z4|"C"z4|]');
  const wishes = {
    setup: guitar,
    hand: DEFAULT_HAND,
    voice: VOICE_TYPES.alto,
    overBass: true,
    beginner: true,
  };
  const words = (own: Tune) =>
    planKeys(own, wishes)[0]!.reasons.filter(reason => /melody|voice/.test(reason));
  expect(words(chords)).toEqual([]);
  expect(words(song).length).toBeGreaterThan(2);
});

describe('where a fiddle tune goes on a guitar (common practice)', () => {
  it('a reel that would climb past the body is played as a guitarist reads it, an octave lower', () => {
    // Drowsy Maggie and Morrison's Jig lie between the fourth and the first string, over the open basses.
    for (const title of ['Drowsy Maggie', 'Morrison']) {
      const reel = committeeTunes().find(t => t.title.includes(title))!;
      const [best] = planCapo(reel, guitar, DEFAULT_HAND, 'auto', { overBass: true });
      expect(best!.octaveShift, title).toBe(-12);
      expect(best!.melody.highestFret).toBeLessThan(8);
    }
  });
  it('a tune that has room over its bass an octave lower needs no capo; one that would dive under it keeps its octave', () => {
    // The refrain of Jingle Bells, from memory: B3 to G4 and D4 over G shapes.
    const refrain = '"G"BBB2|BBB2|BdG3/2A/|B4|"C"ccc3/2c/|"G"cBB2|"A7"BAAB|"D7"A2d2|';
    const bestOf = (own: Tune) => planCapo(own, guitar, DEFAULT_HAND, 'auto', { overBass: true })[0]!;
    expect(bestOf(tune('G', refrain))).toMatchObject({
      octaveShift: -12,
      shapeKey: { tonic: 'G' },
      setup: { capo: 0 },
    });
    for (const title of ['Swallowtail Jig', 'Si Bheag, Si Mhor']) {
      const best = bestOf(committeeTunes().find(own => own.title === title)!);
      expect([best.octaveShift, best.crowded], title).toEqual([0, 0]);
    }
  });
  it('few tunes of the books leave the first twelve frets', () => {
    const high = committeeTunes().filter(t => {
      const [best] = planCapo(t, guitar, DEFAULT_HAND, 'auto', { overBass: true });
      return best!.setup.capo + best!.melody.highestFret > 12;
    });
    expect(high.length / committeeTunes().length).toBeLessThan(0.1);
  });
  it('little of it climbs over the seventh fret from the capo', () => {
    const highest = committeeTunes().map(
      t => planCapo(t, guitar, DEFAULT_HAND, 'auto', { overBass: true })[0]!.melody.highestFret,
    );
    expect(highest.filter(fret => fret > 7).length / highest.length).toBeLessThan(0.12);
    expect(Math.max(...highest)).toBeLessThan(10);
  });
  it('a song in D goes to D shapes: what they leave out of the thick strings fingers need not pass by', () => {
    const mountain = tune('D', '"D"Addf|"D"edBA|"D"dd"A"fe|"D"d2d2|]');
    const [best] = planCapo(mountain, guitar, DEFAULT_HAND, 'auto', { overBass: true });
    expect(best!.setup.capo).toBe(0);
  });
});

describe('drop D (common practice: for tunes in D)', () => {
  const offer = (title: string) =>
    otherTuning(committeeTunes().find(t => t.title.includes(title))!, {
      setup: guitar,
      hand: DEFAULT_HAND,
      overBass: true,
    });
  it.each(['Harvest Home', 'Haste to the Wedding'])(
    'is offered where a melody in D gets its root below it, with what it gains: %s',
    title => {
      const found = offer(title)!;
      expect(found).toMatchObject({ name: 'Drop D', other: { shapeKey: { tonic: 'D' }, transposition: 0 } });
      expect(found.other.setup.tuning.at(-1)).toBe('D2');
      expect(found.other.cost).toBeLessThan(found.own.cost);
      expect(found.other.crowded).toBeLessThan(found.own.crowded);
      expect(found.gains.join()).toContain('an octave lower, on the open sixth string');
    },
  );
  it('is offered to no tune that is played from other shapes, to no other tuning, and not without a bass', () => {
    for (const t of oneIn(5, committeeTunes())) {
      const found = otherTuning(t, { setup: guitar, hand: DEFAULT_HAND, overBass: true });
      if (found) expect(found.other.shapeKey.tonic).toBe('D');
    }
    const reel = committeeTunes().find(t => t.title.includes('Harvest Home'))!;
    const dropped = offer('Harvest Home')!.other.setup;
    expect(
      otherTuning(reel, { setup: { ...dropped, capo: 0 }, hand: DEFAULT_HAND, overBass: true }),
    ).toBeUndefined();
    expect(otherTuning(reel, { setup: guitar, hand: DEFAULT_HAND })).toBeUndefined();
    const mandolin = standardSetup('mandolin');
    expect(otherTuning(reel, { setup: mandolin, hand: DEFAULT_HAND, overBass: true })).toBeUndefined();
  });
});

describe('names with a capo (common practice)', () => {
  it('G shape: capo 2 sounds A, 4 B, 5 C', () => {
    for (const [capo, sounds] of [
      [2, 'A'],
      [4, 'B'],
      [5, 'C'],
    ] as const)
      expect(capoNames(['G'], capo, 0)[0]!.sounding).toBe(sounds);
  });
  it('C Am G F at capo 6: F# D#m C# B; Am C Dm Em G at capo 2: Bm D Em F#m A', () => {
    expect(capoNames(['C', 'Am', 'G', 'F'], 6, 6).map(p => p.sounding)).toEqual(['F#', 'D#m', 'C#', 'B']);
    expect(capoNames(['Am', 'C', 'Dm', 'Em', 'G'], 2, 2).map(p => p.sounding)).toEqual([
      'Bm',
      'D',
      'Em',
      'F#m',
      'A',
    ]);
  });
  it('the chart has twelve shapes, each a capo below its sound', () => {
    for (let capo = 0; capo <= 12; capo++) {
      const chart = capoChart(capo);
      expect(chart).toHaveLength(12);
      for (const { shape, sounding } of chart)
        expect(mod12(pitchClassOf(shape) + capo)).toBe(pitchClassOf(sounding));
    }
  });
  it('tells the pianist what sounds', () => {
    const band = bandView(song, 2, 2);
    expect(band.key).toEqual({ tonic: 'A', mode: 'major' });
    expect(band.chords.map(c => c.sounding)).toEqual(['A', 'D', 'E', 'F#m', 'E7']);
    expect(band.chords.map(c => c.shape)).toEqual(['G', 'C', 'D', 'Em', 'D7']);
    expect(band.chords.map(c => c.step)).toEqual(['I', 'IV', 'V', 'vi', 'V']);
    expect(band.words).toContain('2 semitones above');
  });
});

describe('stretch and capo', () => {
  const grips = ['133211', 'x32010'].map(text => chosenShape(text, guitar, DEFAULT_HAND)!.grip);
  it('a stretch shrinks by 2^(−k/12) along the neck: capo 5 → 0.749, capo 7 → 0.667 (equal temperament)', () => {
    const along = [
      { finger: 1, fret: 1, from: 3, to: 3 },
      { finger: 4, fret: 4, from: 3, to: 3 },
    ] as const;
    const at = (capo: number) => stretchOf({ ...guitar, capo }, DEFAULT_HAND, along).widest;
    // Across the neck strings spread a little on the way up, so the whole shrinks slightly less.
    expect(at(5) / at(0)).toBeCloseTo(0.749, 2);
    expect(at(7) / at(0)).toBeCloseTo(0.667, 2);
  });
  it('gets narrower fret by fret, and the smallest capo for a limit is the first that holds it', () => {
    const table = stretchByCapo(guitar, DEFAULT_HAND, grips, 9);
    for (let i = 1; i < table.length; i++) expect(table[i]!.stretch).toBeLessThan(table[i - 1]!.stretch);
    for (const limit of [50, 60, 70, 90]) {
      const found = smallestCapoFor({ ...guitar, capo: 3 }, DEFAULT_HAND, grips, limit)!;
      expect(found.stretch).toBeLessThanOrEqual(limit);
      if (found.capo > 0) expect(table[found.capo - 1]!.stretch).toBeGreaterThan(limit);
      expect(found.pitchMove).toBe(found.capo - 3);
    }
    expect(smallestCapoFor(guitar, DEFAULT_HAND, grips, 5)).toBeUndefined();
  });
  it('the way back goes down a fret a week to none', () => {
    const steps = wayBack({ ...guitar, capo: 4 }, DEFAULT_HAND, grips);
    expect(steps.map(s => s.capo)).toEqual([4, 3, 2, 1, 0]);
    expect(steps.map(s => s.week)).toEqual([1, 2, 3, 4, 5]);
    for (const step of steps.slice(1)) expect(step.wider).toBeGreaterThan(0);
  });
});

describe('voices', () => {
  it('a melody is sung in the octave that fits', () => {
    expect(voiceLie(VOICE_TYPES.bass, 60, 72)).toMatchObject({ octaveShift: -12, below: 0 });
    expect(voiceLie(VOICE_TYPES.soprano, 60, 72)).toMatchObject({ octaveShift: 0, below: 0, above: 0 });
  });
  it('what goes beyond is counted', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 40, max: 70 }),
        fc.integer({ min: 0, max: 24 }),
        fc.integer({ min: 40, max: 80 }),
        fc.integer({ min: 0, max: 24 }),
        (low, width, from, span) => {
          const lie = voiceLie({ low, high: low + width }, from, from + span);
          expect(lie.high - lie.low).toBe(span);
          expect(lie.below).toBe(Math.max(0, low - lie.low));
          expect(lie.above).toBe(Math.max(0, lie.high - low - width));
          if (lie.below + lie.above === 0) expect(span).toBeLessThanOrEqual(width);
        },
      ),
    );
  });
});

describe('the table of keys and capos', () => {
  it('has every pair whose names agree, sorted, its effort the sum of its parts', () => {
    const plans = planKeys(song, { setup: guitar, hand: DEFAULT_HAND });
    expect(plans).toHaveLength(120);
    const seen = new Set(plans.map(p => `${pitchClassOf(p.shapeKey.tonic)}:${p.setup.capo}`));
    expect(seen.size).toBe(120);
    for (const [i, p] of plans.entries()) {
      expect(mod12(pitchClassOf(p.shapeKey.tonic) + p.setup.capo)).toBe(pitchClassOf(p.soundingKey.tonic));
      expect(mod12(pitchClassOf('G') + p.transposition)).toBe(pitchClassOf(p.soundingKey.tonic));
      expect(p.cost).toBeCloseTo(
        Object.values(p.parts).reduce((a, b) => a + b, 0),
        9,
      );
      if (i > 0) expect(p.cost).toBeGreaterThanOrEqual(plans[i - 1]!.cost);
      expect(p.reasons.join(' ')).toContain(p.setup.capo ? `Capo ${p.setup.capo}` : 'No capo');
    }
  });
  it('a song in B flat goes to the shapes of an open key with a capo; one in G needs a low capo at most (common practice)', () => {
    const flat = planKeys(transposeTune(song, 3), {
      setup: guitar,
      hand: DEFAULT_HAND,
      target: { tonic: 'Bb', within: 0 },
    })[0]!;
    expect(flat.setup.capo).toBeGreaterThan(0);
    expect(['G', 'A', 'C', 'D', 'E']).toContain(flat.shapeKey.tonic);
    const plain = planKeys(song, {
      setup: guitar,
      hand: DEFAULT_HAND,
      target: { tonic: 'G', within: 0 },
    })[0]!;
    expect(plain.soundingKey.tonic).toBe('G');
    expect(plain.setup.capo).toBeLessThanOrEqual(3);
  });
  it('the voice decides the sounding key where one sings: best choices fit it', () => {
    const { low, high } = melodyRange(song)!;
    const voice = { low: low + 5, high: high + 6 };
    const [best] = planKeys(song, { setup: guitar, hand: DEFAULT_HAND, voice });
    expect(best!.voice).toMatchObject({ below: 0, above: 0 });
    expect(best!.reasons.join(' ')).toMatch(/The voice sings from .* it fits/);
  });
  it('keeps to the wanted pitch', () => {
    const plans = planKeys(song, { setup: guitar, hand: DEFAULT_HAND, target: { tonic: 'Eb', within: 1 } });
    for (const p of plans.slice(0, 10))
      expect(['D', 'Eb', 'E'].map(pitchClassOf)).toContain(pitchClassOf(p.soundingKey.tonic));
    expect(plans.at(-1)!.reasons.join(' ')).toMatch(/outside the wanted E♭/);
  });
  it('a capo is not put on for next to nothing: where the voice has as much room without it, it stays off', () => {
    const augustin = committeeTunes().find(({ title }) => title === 'O du lieber Augustin')!;
    const { voice, setup } = planKeys(augustin, {
      setup: guitar,
      hand: DEFAULT_HAND,
      voice: VOICE_TYPES.alto,
    })[0]!;
    expect(setup.capo).toBe(0);
    expect(voice).toMatchObject({ below: 0, above: 0 });
  });
  it('tells the effort of shapes that the screen of shapes shows, with their fingers', () => {
    for (const own of oneIn(
      4,
      committeeTunes().filter(({ measures }) => measures.some(m => m.chords.length)),
    )) {
      const [best] = planKeys(own, { setup: guitar, hand: DEFAULT_HAND });
      const { setup, transposition, parts } = best!;
      const { total } = planShapes(own, { ...freshPlan(own.id), setup, transposition });
      expect(parts.shapes + parts.changes, own.title).toBeCloseTo(total, 6);
      expect(parts.changes).toBeGreaterThanOrEqual(0);
    }
  });
  it('says in which key the same hands play without the capo, where no voice needs it', () => {
    const [high] = planCapo(song, guitar, DEFAULT_HAND, 5);
    expect(high!.reasons[0]).toBe(
      'Capo 5: D major shapes sound in G major, the written key; without it in D major.',
    );
    const sung = planKeys(song, { setup: guitar, hand: DEFAULT_HAND, voice: VOICE_TYPES.alto });
    expect(sung.flatMap(({ reasons }) => reasons).join()).not.toContain('without it');
    expect(planCapo(song, guitar, DEFAULT_HAND, 0)[0]!.reasons[0]).not.toContain('without it');
  });
  it('no barre is no barre', () => {
    for (const p of planKeys(song, { setup: guitar, hand: DEFAULT_HAND, noBarre: true }))
      expect(p.barre).toBe(0);
  });
  it('is the same every time', () => {
    const wishes = { setup: guitar, hand: DEFAULT_HAND, voice: VOICE_TYPES.alto };
    expect(JSON.stringify(planKeys(song, wishes))).toBe(JSON.stringify(planKeys(song, wishes)));
  });
});

describe('a planned progression', () => {
  it('for a mandolin’s chop has no open string and three strings at least, and the shapes that are chopped (common practice)', () => {
    const setup = standardSetup('mandolin');
    const plan = { ...freshPlan('t'), setup, pattern: '. C . C' };
    const { chords } = planShapes(song, plan);
    const held = chords.map(c => [c.shape, shapeText(c.chosen!.frets)]);
    expect(Object.fromEntries(held)).toMatchObject({ G: 'x523', C: 'x233', D: 'x452', Em: 'x223' });
    for (const { chosen } of chords) {
      expect(chosen!.frets).not.toContain(0);
      expect(chosen!.frets.filter(fret => fret !== null).length).toBeGreaterThanOrEqual(3);
    }
    // Strummed, it has its open strings; a guitarist stops a chop with the plucking hand.
    expect(shapeText(planShapes(song, { ...plan, pattern: 'D D D D' }).chords[0]!.chosen!.frets)).toBe(
      '0023',
    );
    const guitars = { ...freshPlan('t'), pattern: '. C . C' };
    expect(shapeText(planShapes(song, guitars).chords[1]!.chosen!.frets)).toBe('x32010');
  });
  it('joins neighbours of one name, keeps the wishes and chosen shapes, and says what changes cost', () => {
    const plan = { ...freshPlan('t'), wishes: { noBarre: true }, choices: { c2: 'x32013' } };
    const { chords, worst } = planShapes(song, plan);
    expect(chords.map(c => c.shape)).toEqual(['G', 'C', 'D', 'G', 'Em', 'C', 'D7', 'G']);
    expect(chords[1]).toMatchObject({ byHand: true, ids: ['c2'] });
    expect(shapeText(chords[1]!.chosen!.frets)).toBe('x32013');
    for (const c of chords) expect(c.chosen!.grip.some(isBarre)).toBe(false);
    expect(worst).toBe(Math.max(...chords.map(c => c.change)));
  });
  it('has its key and capo open until they are taken; shapes that meant other notes go then', () => {
    const wished = { ...freshPlan('t'), wishes: { noBarre: true }, choices: { c2: 'x32013' } };
    expect(wished.keyOpen).toBe(true);
    const taken = { ...wished, ...takenKey({ setup: { ...guitar, capo: 3 }, transposition: -2 }) };
    expect(taken).toMatchObject({ setup: { capo: 3 }, transposition: -2, wishes: { noBarre: true } });
    expect([taken.keyOpen, taken.choices]).toEqual([false, {}]);
  });
  it('follows transposition and capo: shape names are the sound less the capo', () => {
    fc.assert(
      fc.property(fc.integer({ min: -6, max: 5 }), fc.integer({ min: 0, max: 9 }), (transposition, capo) => {
        const plan = { ...freshPlan('t'), setup: { ...guitar, capo }, transposition };
        for (const c of planShapes(song, plan).chords)
          expect(mod12(pitchClassOf(parseChord(c.shape)!.root) + capo)).toBe(
            pitchClassOf(parseChord(c.sounding)!.root),
          );
      }),
      { numRuns: 30 },
    );
  });
  it('takes what players know of a chord also from up the neck, unless a wish is against it (common practice)', () => {
    const jazz = readAbc('X:1\nT:J\nM:4/4\nL:1/4\nK:Em\n"Em"EGBG|"E7#9"EGBd|"D9"DFAc|"Em"E4|]\n')[0]!.tune;
    const shapes = (wishes: { maxFret?: number }) =>
      planShapes(jazz, { ...freshPlan('j'), wishes }).chords.map(c => shapeText(c.chosen!.frets));
    expect(shapes({})).toEqual(['022000', '076780', 'x5455x', '022000']);
    const low = shapes({ maxFret: 5 });
    expect([low[1], low[2]]).toEqual(['020004', 'x5455x']);
  });
  it('a shape that is chosen as it stands costs what it did: it is known as before', () => {
    const plan = freshPlan(song.id);
    const { chords, total } = planShapes(song, plan);
    const { ids, chosen } = chords[1]!;
    const choices = Object.fromEntries(ids.map(id => [id, shapeText(chosen!.frets)]));
    const again = planShapes(song, { ...plan, choices });
    expect(again.chords[1]).toMatchObject({ byHand: true, chosen });
    expect(again.total).toBeCloseTo(total, 9);
  });
  it('is left without a shape where the wishes allow none, and says so by leaving it out', () => {
    const plan = { ...freshPlan('t'), wishes: { maxFret: 1, noBarre: true } };
    const { chords } = planShapes(song, plan);
    expect(chords.find(c => c.shape === 'D')!.chosen).toBeUndefined();
  });
});

describe('a tune moved to another key', () => {
  it('sounds as many semitones higher, note for note, and comes back', () => {
    fc.assert(
      fc.property(tunes(), fc.integer({ min: -11, max: 11 }), ({ abc }, semitones) => {
        const source = readAbc(abc)[0]!.tune;
        const moved = transposeTune(source, semitones);
        const notes = (t: typeof source) => melodyNotes(t).map(n => [n.at, n.ticks, n.midi, n.tied]);
        expect(notes(moved)).toEqual(
          notes(source).map(([at, ticks, midi, tied]) => [at, ticks, (midi as number) + semitones, tied]),
        );
        const back = transposeTune(moved, -semitones);
        expect(notes(back)).toEqual(notes(source));
        for (const [m, measure] of moved.measures.entries()) {
          for (const [e, event] of measure.events.entries()) {
            const from = source.measures[m]!.events[e]!;
            for (const [g, grace] of (event.graces ?? []).entries())
              expect(midiOf(grace)).toBe(midiOf(from.graces![g]!) + semitones);
          }
          for (const [c, chord] of measure.chords.entries()) {
            const before = parseChord(source.measures[m]!.chords[c]!.symbol);
            const after = parseChord(chord.symbol);
            if (before) expect(pitchClassOf(after!.root)).toBe(mod12(pitchClassOf(before.root) + semitones));
          }
        }
      }),
      { numRuns: 150 },
    );
  });
});

it('reach between fingers is for the hand that is measured (judgement)', () => {
  expect(reachBetween({ size: 'medium', span: 155 }, 1, 4)).toEqual(reachBetween(DEFAULT_HAND, 1, 4));
  expect(reachBetween({ size: 'medium', beginner: true }, 1, 4).limit).toBeLessThan(
    reachBetween(DEFAULT_HAND, 1, 4).limit,
  );
  expect(reachBetween({ size: 'small', span: 180 }, 1, 4).limit).toBeGreaterThan(
    reachBetween({ size: 'large' }, 1, 4).limit,
  );
});

describe('for a beginner', () => {
  const lie = (abc: string, beginner: boolean, key = 'E') =>
    planCapo(tune(key, abc), guitar, DEFAULT_HAND, 'auto', { overBass: true, beginner })[0]!;
  it('the capo stays at fret 3 or below, and the melody near the nut where it can', () => {
    // In E flat everybody else takes the capo higher.
    const high = '"Eb"EGBG|"Ab"cAcA|"Bb"BFDF|"Eb"E4|]';
    expect(lie(high, true, 'Eb').setup.capo).toBeLessThanOrEqual(3);
    // A melody that goes to b'' over a bass goes down for a beginner.
    const above = '"G"gbgd|"C"g2e2|"D"fada|"G"B2d2|"G"g4|]';
    expect(lie(above, false, 'G').melody.highestFret).toBeGreaterThan(4);
    expect(lie(above, true, 'G').melody.highestFret).toBeLessThanOrEqual(4);
    expect(lie(above, true, 'G').reasons.join(' ')).toContain('in first position');
  });
  it('no traditional tune takes a capo above fret 3, though at the fifth some would lie higher over their bass', () => {
    const capos = committeeTunes().flatMap(own =>
      [{ overBass: true }, { alone: true }].map(
        wish => planCapo(own, guitar, DEFAULT_HAND, 'auto', { ...wish, beginner: true })[0]!.setup.capo,
      ),
    );
    expect(Math.max(...capos)).toBe(3);
  });
  it('a key of open shapes comes before the last notes of first position', () => {
    // The Kesh in G, up to b: by E shapes at capo 3 it would lie up to fret 4, over C sharp minor and B.
    const jig = committeeTunes().find(({ title }) => title === 'The Kesh')!;
    const [best] = planCapo(jig, guitar, DEFAULT_HAND, 'auto', { overBass: true, beginner: true });
    expect(best!.shapes).toEqual(['G', 'D', 'C', 'Em']);
    expect(best!.setup.capo).toBe(0);
    expect(best!.barre).toBe(0);
  });
  it('each barre is one to learn: a few of them for a beat each are no key for a beginner who holds its shapes', () => {
    const shapesOf = (title: string, wishes: Parameters<typeof planCapo>[4]) => {
      const own = committeeTunes().find(other => other.title.startsWith(title))!;
      return planCapo(own, guitar, DEFAULT_HAND, 'auto', { beginner: true, ...wishes })[0]!.shapes;
    };
    // By E shapes at capo 3 they had C sharp minor and B, and F sharp minor, too.
    expect(shapesOf('The Kesh', { alone: true })).toEqual(['G', 'D', 'C', 'Em']);
    expect(shapesOf('Miss McLeod', { alone: true })).toEqual(['G', 'C', 'Am', 'D', 'Em']);
    expect(shapesOf("Soldier's Joy", { overGrips: true })).toEqual(['D', 'A', 'G']);
  });
  it.each(['Silent Night', 'Battle March', 'When the Saints'])(
    'a melody alone in C is played without a capo: F does not tire, %s',
    title => {
      // By A shapes at capo 3 Silent Night lay on the thick strings for two thirds of its time.
      const own = committeeTunes().find(other => other.title.startsWith(title))!;
      const [best] = planCapo(own, guitar, DEFAULT_HAND, 'auto', { beginner: true, alone: true });
      expect([best!.setup.capo, best!.shapeKey.tonic]).toEqual([0, 'C']);
    },
  );
});

describe('shapes that every pupil knows (common practice)', () => {
  it('are what songs are held with, barres of B minor and B flat included, each in one way', () => {
    let others = 0;
    let all = 0;
    let several = 0;
    let names = 0;
    for (const song of committeeTunes()) {
      const held = new Map<string, Set<string>>();
      for (const { shape, chosen } of planShapes(song, freshPlan(song.id)).chords) {
        if (!chosen) continue;
        const usual = unusualEffort(chosen.frets, parseChord(shape)!, guitar);
        if (usual === undefined) continue;
        all += 1;
        if (usual > 0) others += 1;
        held.set(shape, (held.get(shape) ?? new Set()).add(shapeText(chosen.frets)));
      }
      names += held.size;
      several += [...held.values()].filter(ways => ways.size > 1).length;
    }
    expect(all).toBeGreaterThan(500);
    expect(others / all).toBeLessThan(0.02);
    expect(several / names).toBeLessThan(0.05);
    const barres = planShapes(tune('G', '"G"GB"Bm"dB|"Bb"_BdfB|"G"G4|]'), freshPlan('t')).chords;
    expect(barres.map(({ chosen }) => shapeText(chosen!.frets))).toEqual(
      expect.arrayContaining(['x24432', 'x13331']),
    );
  });
  it('a chord of the mandolin that is held as everybody does at one place is so at every other', () => {
    const setup = standardSetup('mandolin');
    const waysOf = committeeTunes().flatMap(song => {
      const held = new Map<string, Shape[]>();
      for (const { shape, chosen } of planShapes(song, { ...freshPlan(song.id), setup }).chords)
        if (chosen) held.set(shape, [...(held.get(shape) ?? []), chosen]);
      return [...held.values()];
    });
    expect(waysOf.length).toBeGreaterThan(150);
    for (const ways of waysOf) {
      const usual = ways.filter(way => way.usual).length;
      expect([0, ways.length], ways.map(way => shapeText(way.frets)).join()).toContain(usual);
    }
  });
});
