import { Alert, Button, Group, Switch, Text, TextInput } from '@mantine/core';
import { type FormEvent, type ReactNode, useMemo, useState } from 'react';
import { changesSince } from '#core/compare';
import { applyEdit, type Edit, startHistory, variantFault } from '#core/edit';
import {
  type Arrangement,
  arrangementIn,
  MOST_NAME,
  measureIndex,
  phraseSpan,
  phrasesOf,
  type ScoreMeasure,
  type Snapshot,
  snapshotOf,
  type Variant,
} from '#core/score';
import { beatName } from '#core/time';
import { measureNumbers, measureSpan } from '#core/tune';
import { useSnapshots, useStoreChange } from '../../../data/queries';
import { newId, removeSnapshot, save, storeWords } from '../../../data/store';
import { BusyButton } from '../../../parts/BusyButton';
import { Choice } from '../../../parts/Choice';
import { dayOf, timeOf } from '../../../parts/dates';
import { Field } from '../../../parts/Field';
import { offerPuttingBack } from '../../../parts/putBack';
import common from '../../../theme/common.module.css';
import styles from './VersionsPanel.module.css';

/** What is shown in the score before it is taken. */
type Shown = { kind: 'version'; snapshot: Snapshot } | { kind: 'variant'; variant: Variant };

interface VersionsPanelProps {
  arrangement: Arrangement;
  /** Ids of the chosen measures. */
  measures: readonly string[];
  onPropose: (proposal: Arrangement | undefined) => void;
  /** Does an edit; what is proposed is left then. */
  onEdit: (edit: Edit) => void;
  onChooseMeasures: (from: string, to: string) => void;
}

/** The arrangement's name, its kept versions, other ways to play a passage, and passages with a name. */
export function VersionsPanel(props: VersionsPanelProps) {
  const { arrangement, measures, onPropose, onEdit, onChooseMeasures } = props;
  const snapshots = useSnapshots(arrangement.id);
  const [shown, setShown] = useState<Shown>();
  const show = (next: Shown | undefined, proposal?: Arrangement) => {
    setShown(next);
    onPropose(proposal);
  };
  const edit = (next: Edit) => {
    show(undefined);
    onEdit(next);
  };
  const keep = useStoreChange((name: string) =>
    save('snapshots', snapshotOf(arrangement, { id: newId(), name, made: Date.now() }), undefined),
  );
  const forget = useStoreChange(async ({ id, label }: Snapshot) => {
    show(undefined);
    await offerPuttingBack(`The version “${label}” was taken away`, await removeSnapshot(id));
  });
  const trouble = snapshots.error ?? keep.error ?? forget.error;
  const numbers = measureNumbers(arrangement.measures);
  const spanOf = (ids: readonly string[]) => {
    const places = ids.map(id => arrangement.measures.findIndex(m => m.id === id)).filter(i => i >= 0);
    return places.length
      ? measureSpan(numbers, Math.min(...places), Math.max(...places))
      : 'measures that are gone';
  };
  const here = spanOf(measures);
  const swapped = (variant: Variant) => {
    const result = applyEdit(startHistory(arrangement), {
      kind: 'swap-variant',
      ids: [],
      values: { variant: variant.id },
    });
    return 'error' in result ? undefined : result.present;
  };
  return (
    <section aria-label="Versions" className={`${common.stack} ${styles.versions}`}>
      {trouble && (
        <Alert color="cranberry" title="It could not be done">
          {storeWords(trouble)}
        </Alert>
      )}
      <Field
        key={arrangement.name ?? ''}
        label="Name of this arrangement"
        value={arrangement.name ?? ''}
        onTake={name => edit({ kind: 'name', ids: [], values: { name } })}
      />
      <h3 className={styles.sideHead}>Versions to go back to</h3>
      <NameForm
        label="Keep it as it is now, called"
        button="Keep"
        pending={keep.isPending}
        onName={name => keep.mutate(name)}
      />
      <ul className={common.kept}>
        {snapshots.data?.map(snapshot => (
          <Kept
            key={snapshot.id}
            name={snapshot.label}
            about={`${dayOf(snapshot.made)}, ${timeOf(snapshot.made)}`}
            looked={shown?.kind === 'version' && shown.snapshot.id === snapshot.id}
            take="Go back to it"
            onLook={() => show({ kind: 'version', snapshot }, arrangementIn(snapshot))}
            onTake={() =>
              edit({
                kind: 'restore',
                ids: [],
                values: { state: arrangementIn(snapshot), what: snapshot.label },
              })
            }
            onLeave={() => show(undefined)}
            onForget={() => forget.mutate(snapshot)}
          >
            {shown?.kind === 'version' && shown.snapshot.id === snapshot.id && (
              <Changes before={snapshot} now={arrangement} />
            )}
          </Kept>
        ))}
      </ul>
      <h3 className={styles.sideHead}>Other ways to play a passage</h3>
      <VariantForm here={here} onKeep={values => edit({ kind: 'keep-variant', ids: measures, values })} />
      <ul className={common.kept}>
        {arrangement.variants?.map(variant => {
          const fault = variantFault(arrangement, variant);
          return (
            <Kept
              key={variant.id}
              name={variant.name}
              about={fault ?? `for ${spanOf(variant.measures)}, now “${variant.present}”`}
              looked={shown?.kind === 'variant' && shown.variant.id === variant.id}
              take="Play it instead"
              onLook={fault ? undefined : () => show({ kind: 'variant', variant }, swapped(variant))}
              onTake={() => edit({ kind: 'swap-variant', ids: [], values: { variant: variant.id } })}
              onLeave={() => show(undefined)}
              onForget={() => edit({ kind: 'drop-variant', ids: [], values: { variant: variant.id } })}
            >
              <Switch
                size="xs"
                label="Played by itself the last time"
                checked={variant.last ?? false}
                onChange={event =>
                  edit({
                    kind: 'last-variant',
                    ids: [],
                    values: { variant: variant.id, last: event.currentTarget.checked },
                  })
                }
              />
            </Kept>
          );
        })}
      </ul>
      <h3 className={styles.sideHead}>Passages with a name</h3>
      <PassageForm
        key={measures.join()}
        arrangement={arrangement}
        measures={measures}
        onName={values => edit({ kind: 'phrase', ids: measures, values })}
      />
      <ul className={common.kept}>
        {phrasesOf(arrangement).map(phrase => (
          <li key={phrase.id}>
            <div>
              <strong>{phrase.name}</strong>
              <div className={common.about}>{phraseSpan(arrangement, phrase)}</div>
            </div>
            <Group gap={6}>
              <Button
                size="compact-sm"
                variant="default"
                onClick={() => onChooseMeasures(phrase.from, phrase.to)}
              >
                Choose it
              </Button>
              <Button
                size="compact-sm"
                variant="default"
                onClick={() => edit({ kind: 'phrase', ids: [], values: { name: null, phrase: phrase.id } })}
              >
                Forget
              </Button>
            </Group>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Something that is kept: looked at in the score, taken, forgotten. */
function Kept({
  name,
  about,
  looked,
  take,
  onLook,
  onTake,
  onLeave,
  onForget,
  children,
}: {
  name: string;
  about: string;
  /** Whether it is shown in the score. */
  looked: boolean;
  take: string;
  /** Absent where it can't be shown. */
  onLook: (() => void) | undefined;
  onTake: () => void;
  onLeave: () => void;
  onForget: () => void;
  children?: ReactNode;
}) {
  return (
    <li className={looked ? common.looked : ''}>
      <div>
        <strong>{name}</strong>
        <div className={common.about}>{about}</div>
      </div>
      <Group gap={6}>
        {(looked || onLook) && (
          // The same button, so that keyboard and pointer stay on what undoes it.
          <Button
            size="compact-sm"
            variant="default"
            {...(!looked && { 'aria-label': `Look at ${name}` })}
            onClick={looked ? onLeave : onLook}
          >
            {looked ? 'Leave it' : 'Look at it'}
          </Button>
        )}
        {looked ? (
          <Button
            key="take"
            size="compact-sm"
            color="marigold.6"
            onClick={({ currentTarget }) => {
              (currentTarget.previousElementSibling as HTMLElement).focus();
              onTake();
            }}
          >
            {take}
          </Button>
        ) : (
          <Button
            key="forget"
            size="compact-sm"
            variant="default"
            aria-label={`Forget ${name}`}
            onClick={onForget}
          >
            Forget
          </Button>
        )}
      </Group>
      {children}
    </li>
  );
}

/** Most changes that are listed. */
const LISTED = 12;

/** What became of the arrangement since a version. */
function Changes({ before, now }: { before: Arrangement; now: Arrangement }) {
  const changes = useMemo(() => changesSince(before, now), [before, now]);
  if (!changes.length) return <Text size="sm">Nothing has changed since.</Text>;
  return (
    <>
      <Text size="sm" mt={6}>
        What changed since:
      </Text>
      <ul className={styles.why}>
        {changes.slice(0, LISTED).map(({ text }) => (
          <li key={text}>{text}</li>
        ))}
        {changes.length > LISTED && <li>and {changes.length - LISTED} more</li>}
      </ul>
    </>
  );
}

/** A name for the chosen measures, or for the part of them from one moment up to and with another. */
function PassageForm({
  arrangement,
  measures: ids,
  onName,
}: {
  arrangement: Arrangement;
  measures: readonly string[];
  onName: (values: { name: string; start: number; end: number }) => void;
}) {
  const { measures } = arrangement;
  const places = ids.map(id => measureIndex(arrangement, id)).filter(place => place >= 0);
  const [first, last] = [Math.min(...places), Math.max(...places)];
  const [own, end] = [measures[first], measures[last]];
  const [begins, setBegins] = useState(0);
  const [lastStruck, setLastStruck] = useState<number>();
  if (!own || !end) return null;
  const startsOf = (measure: ScoreMeasure) => [
    ...new Set([0, ...measure.notes.map(note => note.start)].sort((a, b) => a - b)),
  ];
  const optionsOf = (measure: ScoreMeasure) =>
    startsOf(measure).map(value => ({ value, label: beatName(measure.meter, measure.offset + value) }));
  const struck = startsOf(end);
  const upTo = lastStruck ?? struck.at(-1)!;
  const ends = struck.find(start => start > upTo) ?? end.ticks;
  const span =
    first === last && begins >= ends ? undefined : phraseSpan(arrangement, { first, last, begins, ends });
  return (
    <>
      <Group gap={8} grow>
        <Choice size="xs" label="It begins on" options={optionsOf(own)} value={begins} onChange={setBegins} />
        <Choice
          size="xs"
          label="and goes up to"
          options={optionsOf(end)}
          value={upTo}
          onChange={setLastStruck}
        />
      </Group>
      {span ? (
        <NameForm
          label={`Call ${span}`}
          button="Name"
          onName={name => onName({ name, start: begins, end: ends })}
        />
      ) : (
        <Text size="sm">It would end before it begins.</Text>
      )}
    </>
  );
}

function NameForm({
  label,
  button,
  pending = false,
  onName,
}: {
  label: string;
  button: string;
  pending?: boolean;
  onName: (name: string) => void;
}) {
  const [name, setName] = useState('');
  const take = (event: FormEvent) => {
    event.preventDefault();
    if (!name.trim()) return;
    onName(name.trim());
    setName('');
  };
  return (
    <form onSubmit={take}>
      <Group align="end" gap={8} wrap="nowrap">
        <TextInput
          size="xs"
          flex={1}
          label={label}
          maxLength={MOST_NAME}
          value={name}
          onChange={event => setName(event.currentTarget.value)}
        />
        <BusyButton type="submit" size="compact-sm" variant="default" busy={pending} disabled={!name.trim()}>
          {button}
        </BusyButton>
      </Group>
    </form>
  );
}

/** Keeps the passage as one way to play it, before it is changed into another. */
function VariantForm({
  here,
  onKeep,
}: {
  here: string;
  onKeep: (values: Pick<Variant, 'name' | 'present'>) => void;
}) {
  const [name, setName] = useState('');
  const [present, setPresent] = useState('');
  const take = (event: FormEvent) => {
    event.preventDefault();
    if (!name.trim()) return;
    onKeep({ name: name.trim(), present: present.trim() || 'the other way' });
    setName('');
    setPresent('');
  };
  return (
    <form onSubmit={take}>
      <Text size="sm" mb={4}>
        Keep {here} as it stands, then change it: both ways stay.
      </Text>
      <TextInput
        size="xs"
        label="This way is called"
        placeholder="full"
        maxLength={MOST_NAME}
        value={name}
        onChange={event => setName(event.currentTarget.value)}
      />
      <Group align="end" gap={8} wrap="nowrap" mt={4}>
        <TextInput
          size="xs"
          flex={1}
          label="The new way"
          placeholder="easy form"
          maxLength={MOST_NAME}
          value={present}
          onChange={event => setPresent(event.currentTarget.value)}
        />
        <Button type="submit" size="compact-sm" variant="default" disabled={!name.trim()}>
          Keep
        </Button>
      </Group>
    </form>
  );
}
