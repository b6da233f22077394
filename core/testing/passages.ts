/** Passages as teachers have them in their fingers, dictated; tests enter, sound, print and convert them. */

/** What a passage is, its dictation, and the frets it has a measure, thinnest string first among those struck together. */
export interface Passage {
  name: string;
  text: string;
  frets: string[][];
}

export const PASSAGES: readonly Passage[] = [
  {
    name: 'a lick with bends, one repeated, one let back, a hammer-on and a pull to the open string',
    text: 'key: Em\ntempo: 80\ns2 E 8b10 8b10rb10 8b10r 5h7p5 s3 2p0',
    frets: [['8', '8', '8', '5', '7', '5', '2', '0']],
  },
  {
    name: 'sixths slid into, a flat third hammered to the third',
    text: 'key: E\ntempo: 84\nfeel: swing\nQ [s1 /4 s3 /4] [s1 /5 s3 /6] E [s1 Q 0 s3 E 0h1] Q [s1 0 s3 1]',
    frets: [['4', '4', '5', '6', '0', '0', '1', '0', '1']],
  },
  {
    name: 'a melody with double stops over a bass',
    text: 'key: C\ntempo: 90\nmelody: Q [s1 0 s2 1] [s1 1 s2 3] H [s1 0 s2 1] & bass: s5 H 3 s6 3',
    frets: [['0', '1', '3', '1', '3', '0', '1', '3']],
  },
  {
    name: 'an alternating bass with pinches, then a grip that slides in as the bass arrives',
    text:
      'key: E\ntempo: 92\nbass: s6 Q 0 s4 2 s6 0 s4 2 & melody: Q [s2 0] E s1 0 3 Q [s1 0] s2 3 |\n' +
      'bass: s6 Q 0 0 0 0 & melody: H [s1 /4 s2 /5 s3 /4] Q [s1 4 s2 5 s3 4] [s1 0 s2 0]',
    frets: [
      ['0', '0', '0', '2', '3', '0', '0', '3', '2'],
      ['4', '5', '4', '0', '0', '4', '5', '4', '0', '0', '0', '0'],
    ],
  },
  {
    name: 'a measure of two voices with paired harmonics and a slur of four',
    text: 'key: G\ntempo: 72\nmelody: s1 E 3 1 Q [s1 <12> s2 <12>] s3 S 0h2h4p2 Q 0 & bass: s5 H 0 s6 0',
    frets: [['3', '0', '1', '‹12›', '‹12›', '0', '0', '2', '4', '2', '0']],
  },
  {
    name: 'a scale across the strings with a pull-off after another string',
    text: 'key: G\ntempo: 96\ns2 E 3 s1 0 s2 p1 s1 3 s2 0 s3 2 0 s2 1',
    frets: [['3', '0', '1', '3', '0', '2', '0', '1']],
  },
  {
    name: 'bass and brush, then a run in alternate strokes',
    text:
      'key: C\ntempo: 100\ns5 Q 3 down [s1 0 s2 1 s3 0] s4 2 up [s1 0 s2 1 s3 0] |\n' +
      "s3 E 0'd 2'u s2 0'd 1'u 3'd 1'u 0'd s3 2'u",
    frets: [
      ['3', '0', '1', '0', '2', '0', '1', '0'],
      ['0', '2', '0', '1', '3', '1', '0', '2'],
    ],
  },
  {
    name: 'a slide phrase in an open tuning with triplets and a shuffle fill',
    text: 'tuning: D G D G B D\nkey: G\ntempo: 88\nfeel: swing\ns1 E3 /12 12~ 10 Q 12~ E 5/7 s2 3 5',
    frets: [['12', '12', '10', '12', '5', '7', '3', '5']],
  },
];
