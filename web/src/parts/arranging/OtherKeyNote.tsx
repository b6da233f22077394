import { Alert, Button, Text } from '@mantine/core';
import type { OtherKey } from '#core/capo';
import { keyName } from '#core/pitch';

/** Another key for a melody over a bass, with what it gains. */
export function OtherKeyNote({
  offer: { own, other, gains },
  action,
  onAct,
}: {
  offer: OtherKey;
  action: string;
  onAct: () => void;
}) {
  const away = Math.abs(other.transposition);
  return (
    <Alert color="spruce" title={`${keyName(other.soundingKey)} has more room`}>
      <Text size="sm">
        With a bass under the melody no capo is comfortable in {keyName(own.soundingKey)}. In{' '}
        {keyName(other.soundingKey)}, {away} semitone{away === 1 ? '' : 's'}{' '}
        {other.transposition < 0 ? 'lower' : 'higher'} ({keyName(other.shapeKey)} shapes,{' '}
        {other.setup.capo ? `capo ${other.setup.capo}` : 'no capo'}), {gains.join('; ')}.
      </Text>
      <Button size="compact-sm" variant="default" mt={6} onClick={onAct}>
        {action}
      </Button>
    </Alert>
  );
}
