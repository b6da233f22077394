import { Button, SegmentedControl, Switch } from '@mantine/core';
import { IconPrinter } from '@tabler/icons-react';
import { Choice } from './Choice';
import type { ChordNames } from './measureLayout';
import type { Paper } from './paper';
import { useLeftHanded } from './ShapePicture';

/** On which paper a sheet is printed. */
export function PaperSize({ value, onChange }: { value: Paper; onChange: (paper: Paper) => void }) {
  return (
    <SegmentedControl
      value={value}
      onChange={onChange}
      data={[
        { value: 'a4', label: 'A4' },
        { value: 'letter', label: 'Letter' },
      ]}
      aria-label="Paper"
    />
  );
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
  return (
    <Switch
      label="Left-handed pictures"
      checked={leftHanded}
      onChange={event => setLeftHanded(event.currentTarget.checked)}
    />
  );
}

/** Prints what is on the screen. */
export function PrintButton() {
  return (
    <Button color="marigold.6" leftSection={<IconPrinter size={18} />} onClick={() => window.print()}>
      Print
    </Button>
  );
}
