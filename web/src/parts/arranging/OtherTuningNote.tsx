import { Alert, Button, Text } from '@mantine/core';
import type { OtherTuning } from '#core/capo';

/** Another tuning for a melody over a bass, with what it gains. */
export function OtherTuningNote({
  offer: { name, gains },
  onAct,
}: {
  offer: OtherTuning;
  onAct: () => void;
}) {
  return (
    <Alert color="spruce" title={`${name} gains here`}>
      <Text size="sm">With the sixth string a whole tone lower {gains.join('; ')}.</Text>
      <Button size="compact-sm" variant="default" mt={6} onClick={onAct}>
        Plan it in {name.toLowerCase().replace(/d$/, 'D')}
      </Button>
    </Alert>
  );
}
