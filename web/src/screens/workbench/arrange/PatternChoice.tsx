import { Button, Group, Text, TextInput } from '@mantine/core';
import { IconMinus, IconPlus } from '@tabler/icons-react';
import { type KeyboardEvent, useState } from 'react';
import { type NamedPattern, patternFault, patternsFor } from '#core/arrange';
import {
  followingRoot,
  isStrum,
  type OwnPattern,
  type PatternStroke,
  type PatternToken,
  parsePattern,
  patternMeasures,
  patternText,
  spokenStrum,
} from '#core/fingering';
import type { Meter } from '#core/time';
import { usePatterns, useStoreChange } from '../../../data/queries';
import { newId, removeOne, save, storeWords } from '../../../data/store';
import { BusyButton } from '../../../parts/BusyButton';
import { Choice } from '../../../parts/Choice';
import { offerPuttingBack } from '../../../parts/putBack';
import { StrumArrows } from '../../../parts/shape/StrumArrows';
import styles from './PatternChoice.module.css';

/** A pattern of the library, or one typed or clicked; what does not fill the measure is said. */
export function PatternChoice({
  label,
  meter,
  strings,
  text,
  usual,
  placeholder,
  onChange,
}: {
  label: string;
  meter: Meter;
  strings: number;
  text: string;
  /** What is played where nothing is chosen. */
  usual: NamedPattern;
  placeholder: string;
  onChange: (pattern: string) => void;
}) {
  const [typed, setTyped] = useState(text);
  const library = patternsFor(meter);
  const kept = (usePatterns().data ?? NONE).filter(
    p => p.meter.beats === meter.beats && p.meter.unit === meter.unit,
  );
  const own = [...library, ...kept].some(p => p.text === typed.trim()) ? '' : typed.trim();
  const fault = typed.trim() ? patternFault(typed, meter, strings) : undefined;
  // Numbers are played as they are typed: over another chord their bass may be no root.
  const parsed = parsePattern(typed, strings);
  const read = 'error' in parsed ? [] : parsed;
  const each = (change: (strokes: PatternStroke[]) => readonly PatternStroke[]) =>
    patternMeasures(typed)
      .map(measure => {
        const own = parsePattern(measure, strings);
        return 'error' in own ? measure : patternText(change(own));
      })
      .join(' | ');
  const rooted = fault || !read.length ? undefined : each(followingRoot);
  // A strum as it is spoken: with strokes up, or in words.
  const heard = /u/i.test(typed) || /[a-z]{3}/i.test(typed) ? spokenStrum(typed, meter, strings) : undefined;
  const spoken =
    heard && 'pattern' in heard && heard.pattern !== each(own => own) ? heard.pattern : undefined;
  const enter = (value: string) => {
    setTyped(value);
    if (!value.trim() || !patternFault(value, meter, strings)) onChange(value.trim());
  };
  return (
    <>
      <Choice
        label={label}
        options={[
          { value: '', label: placeholder },
          ...(own ? [{ value: own, label: `your own: ${own}` }] : []),
          ...kept.map(p => ({ value: p.text, label: `${p.name} (yours): ${p.text}` })),
          ...library.map(p => ({ value: p.text, label: `${p.name}: ${p.text}` })),
        ]}
        value={typed.trim()}
        onChange={enter}
      />
      <TextInput
        label="or type it"
        description="B bass, A the other bass, digits strings as they are typed, brackets together, D U strums, X damped, C chopped, T treble brush, > accent, . rest, | between measures"
        value={typed}
        error={spoken ? undefined : fault}
        onChange={event => enter(event.currentTarget.value)}
      />
      {spoken && (
        <Button size="compact-sm" variant="default" onClick={() => enter(spoken)}>
          As it is spoken: {spoken}
        </Button>
      )}
      {!fault && read.length > 0 && <StrumArrows pattern={typed} meter={meter} strings={strings} />}
      {rooted && rooted !== each(own => own) && (
        <Button size="compact-sm" variant="default" onClick={() => enter(rooted)}>
          Let the bass follow the chords: {rooted}
        </Button>
      )}
      {own && !fault && <KeepPattern text={own} meter={meter} />}
      {kept
        .filter(p => p.text === typed.trim())
        .map(p => (
          <ForgetPattern key={p.id} pattern={p} />
        ))}
      <details>
        <summary>or click it</summary>
        {patternMeasures(typed).length > 1 ? (
          <Text size="sm">One that goes over several measures is typed.</Text>
        ) : (
          <PatternGrid text={typed.trim() || usual.text} strings={strings} onChange={enter} />
        )}
      </details>
    </>
  );
}

const NONE: OwnPattern[] = [];

/** Keeps a pattern under a name, to be chosen in every piece of its meter. */
function KeepPattern({ text, meter }: { text: string; meter: Meter }) {
  const [name, setName] = useState('');
  const keep = useStoreChange(() =>
    save('patterns', { id: newId(), name: name.trim(), text, meter }, undefined),
  );
  return (
    <Group align="end" gap="xs">
      <TextInput
        label="Keep it as"
        placeholder="a name of your own"
        value={name}
        maxLength={80}
        error={keep.error ? storeWords(keep.error) : undefined}
        onChange={event => setName(event.currentTarget.value)}
      />
      <BusyButton
        variant="default"
        disabled={!name.trim()}
        busy={keep.isPending}
        onClick={() => keep.mutate()}
      >
        Keep it
      </BusyButton>
    </Group>
  );
}

/** Takes a pattern of one's own out of the list; where it is played it stays. */
function ForgetPattern({ pattern: { id, name } }: { pattern: OwnPattern }) {
  const forget = useStoreChange(async () => {
    const restore = await removeOne('patterns', id);
    await offerPuttingBack(`${name} was taken out of the list`, restore);
  });
  return (
    <BusyButton size="compact-sm" variant="subtle" busy={forget.isPending} onClick={() => forget.mutate()}>
      Take “{name}” out of the list
    </BusyButton>
  );
}

const STRUMS = ['', 'D', 'U', 'T', 'X', 'C'] as const;
const STRUM_WORDS: Record<string, string> = {
  '': 'no strum',
  D: 'strum down',
  U: 'strum up',
  T: 'treble brush',
  X: 'damped strum',
  C: 'chop',
};

/** A pattern as a field of strokes and strings: a click sets a string into a stroke or takes it out. */
function PatternGrid({
  text,
  strings,
  onChange,
}: {
  text: string;
  strings: number;
  onChange: (text: string) => void;
}) {
  const read = parsePattern(text, strings);
  // What can't be read is not clicked away by mistake: the field waits until it can be.
  if ('error' in read) return <Text size="sm">{read.error}</Text>;
  const strokes = read;
  const put = (index: number, patch: (stroke: PatternStroke) => PatternStroke) =>
    onChange(patternText(strokes.map((stroke, i) => (i === index ? tidy(patch(stroke)) : stroke))));
  const rows: PatternToken[] = [...Array.from({ length: strings }, (_, i) => i + 1), 'A', 'B'];
  return (
    <div className={styles.patternGrid}>
      <table onKeyDown={event => moveFocus(event, strokes.length)}>
        <thead>
          <tr>
            <th scope="col">Stroke</th>
            {strokes.map((_, i) => (
              <th key={i} scope="col">
                {i + 1}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(token => (
            <tr key={token}>
              <th scope="row">{token === 'A' ? 'next A' : token === 'B' ? 'bass B' : token}</th>
              {strokes.map((stroke, i) => {
                const on = stroke.play.includes(token);
                return (
                  <td key={i}>
                    <button
                      type="button"
                      aria-pressed={on}
                      aria-label={`Stroke ${i + 1}, ${typeof token === 'number' ? `string ${token}` : token === 'B' ? 'bass string' : 'next string'}`}
                      onClick={() =>
                        put(i, s => {
                          const own = isStrum(s) ? [] : s.play;
                          return { ...s, play: on ? own.filter(t => t !== token) : [...own, token] };
                        })
                      }
                    >
                      {on ? token : ''}
                    </button>
                  </td>
                );
              })}
            </tr>
          ))}
          <tr>
            <th scope="row">strum</th>
            {strokes.map((stroke, i) => {
              const now = isStrum(stroke) ? String(stroke.play[0]) : '';
              const next = STRUMS[(STRUMS.indexOf(now as 'D') + 1) % STRUMS.length]!;
              return (
                <td key={i}>
                  <button
                    type="button"
                    aria-pressed={now !== ''}
                    aria-label={`Stroke ${i + 1}, ${STRUM_WORDS[now]}; a click makes it ${STRUM_WORDS[next]}`}
                    onClick={() => put(i, s => ({ ...s, play: next ? [next] : [] }))}
                  >
                    {now}
                  </button>
                </td>
              );
            })}
          </tr>
          <tr>
            <th scope="row">accent</th>
            {strokes.map((stroke, i) => (
              <td key={i}>
                <button
                  type="button"
                  aria-pressed={stroke.accent ?? false}
                  aria-label={`Stroke ${i + 1}, accent`}
                  disabled={!stroke.play.length}
                  onClick={() => put(i, s => ({ play: s.play, ...(!s.accent && { accent: true }) }))}
                >
                  {stroke.accent ? '>' : ''}
                </button>
              </td>
            ))}
          </tr>
        </tbody>
      </table>
      <Group gap={8} mt={6}>
        <Button
          size="compact-sm"
          variant="default"
          leftSection={<IconPlus size={14} />}
          onClick={() => onChange(patternText([...strokes, { play: [] }]))}
        >
          A stroke more
        </Button>
        <Button
          size="compact-sm"
          variant="default"
          leftSection={<IconMinus size={14} />}
          disabled={strokes.length < 2}
          onClick={() => onChange(patternText(strokes.slice(0, -1)))}
        >
          One fewer
        </Button>
        <Text size="sm">Empty strokes are rests.</Text>
      </Group>
    </div>
  );
}

/** Arrows lead to the next stroke or string of the field. */
function moveFocus(event: KeyboardEvent<HTMLTableElement>, strokes: number): void {
  const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: strokes, ArrowUp: -strokes }[event.key];
  const buttons = [...event.currentTarget.querySelectorAll('button')];
  const at = buttons.indexOf(event.target as HTMLButtonElement);
  if (!step || at < 0) return;
  event.preventDefault();
  buttons[at + step]?.focus();
}

/** A stroke whose strings stand in order, thickest first; a rest has no accent. */
function tidy({ play, accent }: PatternStroke): PatternStroke {
  const order = (token: PatternToken) => (token === 'B' ? 99 : token === 'A' ? 98 : Number(token));
  const sorted = [...play].sort((a, b) => order(b) - order(a));
  return accent && sorted.length ? { play: sorted, accent } : { play: sorted };
}
