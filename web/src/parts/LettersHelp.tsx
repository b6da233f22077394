import styles from './LettersHelp.module.css';

const LETTERS: [sign: string, means: string][] = [
  ['s4 0 2 3', 'string 4: open, fret 2, fret 3; the string stays until another is said'],
  ['W H Q E S T', 'whole, half, quarter, eighth, sixteenth, thirty-second; the length stays, too'],
  ['Q.  E3', 'dotted quarter; eighths of a triplet'],
  ['[s1 3 s5 2]', 'struck together'],
  ['down [ ]  up [ ]  roll [ ]', 'brushed down or up; rolled string by string'],
  ['|', 'barline'],
  ['r   -   ...', 'rest; what was struck sounds on; nothing more in this measure'],
  ['& bass:', 'another layer from the beginning of the measure; what follows is bass'],
  ['(0 2) x3   | x2', 'the group three times; the measure before once more'],
  ['2h3  3p2', 'hammered on, pulled off'],
  ['2/4  4\\2  2//4', 'slid; slid and plucked again'],
  ['/7  \\7  7\\  7/', 'slid into from below or above; slid off'],
  ['7b9  7b9r  7b9rb  7^9', 'bent to the sound of fret 9; and back; twice; before the pluck'],
  ['5~  5>  5m  5.  5=', 'vibrato, accent, palm mute, stopped short, let ring'],
  ['5z', 'tremolo'],
  ['x  <12>  5<17>', 'damped stroke; harmonic; held at 5, touched at 17'],
  ['{2}3  {2/}3  {2:3}0', 'grace note; slid grace note; one at fret 3 of string 2'],
  ["3:2  3:t  3'm", 'finger 2; thumb; plucked by m'],
  ['"Am7"  pickup', 'chord by the name of its shape; this first measure is a pickup'],
  ['|:  :|  :|x3', 'what is repeated begins, ends; is played three times'],
  ['1st:  2nd:', 'this measure the first time, this one the second'],
  ['part: Verse', 'a line of its own: a part begins'],
  ['w: by the val-ley *', 'a line of its own: words under the measures before it; * a note without one'],
  ['# words', 'a remark for yourself'],
];

/** The letters of a dictation. */
export function LettersHelp() {
  return (
    <details className={styles.letters}>
      <summary>The letters</summary>
      <dl>
        {LETTERS.map(([sign, means]) => (
          <div key={sign}>
            <dt>{sign}</dt>
            <dd>{means}</dd>
          </div>
        ))}
      </dl>
    </details>
  );
}
