import { Button, Switch } from '@mantine/core';
import { IconPrinter } from '@tabler/icons-react';
import { Choice } from '../Choice';
import type { ChordNames } from '../ribbon/measureLayout';
import { useLeftHanded } from '../shape/ShapePicture';

/** Shows something on a paper, or leaves it out. */
export function PaperSwitch({
  label,
  value,
  onChange,
}: {
  label: string;
  value: boolean;
  onChange: (shown: boolean) => void;
}) {
  return <Switch label={label} checked={value} onChange={event => onChange(event.currentTarget.checked)} />;
}

/** By which names a sheet calls its chords. */
export function NamesOnPaper({
  value,
  onChange,
}: {
  value: ChordNames;
  onChange: (names: ChordNames) => void;
}) {
  return (
    <Choice
      aria-label="Names of chords"
      value={value}
      onChange={onChange}
      options={[
        { value: 'shape', label: 'Shape names' },
        { value: 'sounding', label: 'Sounding names' },
        { value: 'both', label: 'Both names' },
      ]}
    />
  );
}

/** Turns the pictures of shapes for a left-handed player. */
export function LeftHandedPictures() {
  const [leftHanded, setLeftHanded] = useLeftHanded();
  return <PaperSwitch label="Left-handed pictures" value={leftHanded} onChange={setLeftHanded} />;
}

/** Prints what is on the screen. */
export function PrintButton() {
  return (
    <Button color="marigold.6" leftSection={<IconPrinter size={18} />} onClick={() => window.print()}>
      Print
    </Button>
  );
}
