import { Text, TextInput } from '@mantine/core';
import { useState } from 'react';
import { chordLabel } from '#core/chord';
import type { Finger } from '#core/hand';
import { noteAt, type Setup } from '#core/instrument';
import { pitchName, spellMidi } from '#core/pitch';
import { fingeringsOf, nameShape, parseShapeText, shapeText } from '#core/shape';
import { ShapePicture } from '../../parts/shape/ShapePicture';
import shapePictureStyles from '../../parts/shape/ShapePicture.module.css';
import common from '../../theme/common.module.css';
import styles from './NameAShape.module.css';

/** What a shape looks like that is typed: C of a guitar, as many strings of it as there are. */
const EXAMPLE = 'x32010';

/** A shape typed or clicked, and the names of the chord it sounds. */
export function NameAShape({ setup, fifths }: { setup: Setup; fifths: number }) {
  const [text, setText] = useState('');
  const parsed = text.trim() ? parseShapeText(text, setup) : undefined;
  const frets = parsed && !('error' in parsed) ? parsed : undefined;
  const shown = frets ?? setup.tuning.map(() => 0);
  const names = frets ? nameShape(frets, setup, fifths) : [];
  const grip = frets ? (fingeringsOf(frets, setup, { size: 'large', thumb: true })[0]?.grip ?? []) : [];
  return (
    <section className={common.panel} aria-label="Name a shape">
      <h2>What chord is this?</h2>
      <div className={shapePictureStyles.withPicture}>
        <ShapePicture
          setup={setup}
          frets={shown}
          grip={grip.length ? grip : dots(shown)}
          onPick={(string, fret) => setText(shapeText(shown.map((f, i) => (i + 1 === string ? fret : f))))}
        />
        <div>
          <TextInput
            label={`Frets, strings ${setup.tuning.length} to 1`}
            placeholder={EXAMPLE.slice(-setup.tuning.length).padStart(setup.tuning.length, 'x')}
            value={text}
            error={
              parsed && 'error' in parsed && text.length >= setup.tuning.length ? parsed.error : undefined
            }
            onChange={event => setText(event.currentTarget.value)}
          />
          <Text size="sm" c="dimmed" mt={4}>
            Type frets, x for silent, or click in the picture.
          </Text>
          <ol className={styles.namesFound} aria-live="polite">
            {names.slice(0, 4).map(n => (
              <li key={n.chord.symbol}>
                <b>{chordLabel(n.chord.symbol)}</b>{' '}
                {n.remarks.length > 0 && <span className={common.quiet}>{n.remarks.join(', ')}</span>}
              </li>
            ))}
          </ol>
          {frets && !names.length && (
            <Text size="sm">No chord name: fewer than two different notes, or none that fits.</Text>
          )}
          {frets && (
            <Text size="sm" c="dimmed">
              {frets
                .map((f, i) =>
                  f === null ? '' : pitchName(spellMidi(noteAt(setup, i + 1, f) - setup.capo, fifths), true),
                )
                .reverse()
                .filter(Boolean)
                .join(' ')}
            </Text>
          )}
        </div>
      </div>
    </section>
  );
}

/** Held strings as bare dots, where no hand could hold them. */
function dots(frets: readonly (number | null)[]) {
  return frets.flatMap((fret, i) => (fret ? [{ finger: 1 as Finger, fret, from: i + 1, to: i + 1 }] : []));
}
