import { NumberInput, Switch } from '@mantine/core';
import type { TunePlan } from '#core/capo';
import type { Finger } from '#core/hand';
import { stringName, takesAnyBass } from '#core/instrument';
import type { PlanPatch } from '../../engine/useTunePlan';
import { Choice } from '../../parts/Choice';
import { useLeftHanded } from '../../parts/shape/ShapePicture';
import styles from './ShapeWishes.module.css';

/** What is wished of all shapes of a progression. */
export function ShapeWishes({ plan, change }: { plan: TunePlan; change: (patch: PlanPatch) => void }) {
  const [leftHanded, setLeftHanded] = useLeftHanded();
  const { wishes, setup } = plan;
  const wish = (patch: { [K in keyof TunePlan['wishes']]?: TunePlan['wishes'][K] | undefined }) => {
    const next = Object.entries({ ...wishes, ...patch }).filter(
      ([, value]) => value !== undefined && value !== false && !(Array.isArray(value) && !value.length),
    );
    change({ wishes: Object.fromEntries(next) });
  };
  const number = (
    name: 'maxStretch' | 'minFret' | 'maxFret' | 'minStrings',
    label: string,
    low: number,
    high: number,
    width: number,
  ) => (
    <NumberInput
      size="xs"
      label={label}
      w={width}
      min={low}
      max={high}
      placeholder="any"
      hideControls
      value={wishes[name] ?? ''}
      onChange={v => wish({ [name]: typeof v === 'number' && v >= low && v <= high ? v : undefined })}
    />
  );
  return (
    <section className={styles.wishes} aria-label="Wishes for all shapes">
      <Switch
        label="No barre"
        checked={wishes.noBarre ?? false}
        onChange={e => wish({ noBarre: e.currentTarget.checked })}
      />
      <Switch
        label="Thumb over the neck"
        checked={plan.hand.thumb ?? false}
        onChange={e => change({ hand: { ...plan.hand, thumb: e.currentTarget.checked } })}
      />
      <Switch
        label="Inner strings may be silent"
        checked={wishes.innerMutes ?? false}
        onChange={e => wish({ innerMutes: e.currentTarget.checked })}
      />
      {/* With few strings any note may lie lowest by itself. */}
      {!takesAnyBass(setup) && (
        <Switch
          label="Any bass"
          checked={wishes.anyBass ?? false}
          onChange={e => wish({ anyBass: e.currentTarget.checked })}
        />
      )}
      <Switch
        label="Left-handed pictures"
        checked={leftHanded}
        onChange={e => setLeftHanded(e.currentTarget.checked)}
      />
      <Choice
        size="xs"
        label="Keep free"
        w={100}
        options={[
          { value: '', label: 'no finger' },
          ...['1', '2', '3', '4'].map(f => ({ value: f, label: `finger ${f}` })),
        ]}
        value={String(wishes.freeFingers?.[0] ?? '')}
        onChange={v => wish({ freeFingers: v ? [Number(v) as Finger] : [] })}
      />
      <Choice
        size="xs"
        label="Ringing open"
        w={120}
        options={[
          { value: '', label: 'no string' },
          ...setup.tuning.map((_, i) => ({ value: String(i + 1), label: stringName(setup, i + 1) })),
        ]}
        value={String(wishes.openStrings?.[0] ?? '')}
        onChange={v => wish({ openStrings: v ? [Number(v)] : [] })}
      />
      {number('maxStretch', 'Stretch up to, mm', 20, 200, 110)}
      {number('minFret', 'From fret', 1, 20, 70)}
      {number('maxFret', 'To fret', 1, 24, 70)}
      {number('minStrings', 'Strings at least', 1, setup.tuning.length, 100)}
      <Choice
        size="xs"
        label="Find the way with"
        w={180}
        options={[
          { value: 'total', label: 'least effort in all' },
          { value: 'worst', label: 'the easiest worst change' },
        ]}
        value={wishes.goal ?? 'total'}
        onChange={v => wish({ goal: v === 'worst' ? 'worst' : undefined })}
      />
    </section>
  );
}
