import { Alert, Button, Text } from '@mantine/core';
import type { OtherKey } from '#core/capo';
import { keyName, semitoneWords } from '#core/pitch';
import { melodyMove } from '#core/tune';

/** Another key for a melody over a bass, with what it gains. */
export function OtherKeyNote({
  offer: { own, other, because, gains },
  action,
  onAct,
}: {
  offer: OtherKey;
  action: string;
  onAct: () => void;
}) {
  const { semitones } = melodyMove(other.transposition, other.octaveShift);
  const [here, there] = [keyName(own.soundingKey), keyName(other.soundingKey)];
  const capo = other.setup.capo ? `capo ${other.setup.capo}` : 'no capo';
  const [title, lack] = {
    room: [`${there} has more room`, `With a bass under the melody no capo is comfortable in ${here}.`],
    beginner: [`${there} is easier for a beginner`, `${here} asks more of the hand.`],
    capo: [
      `${there} needs ${capo}`,
      `In ${here} the melody lies best over its bass at capo ${own.setup.capo}.`,
    ],
  }[because];
  return (
    <Alert color="spruce" title={title}>
      <Text size="sm">
        {lack} In {there}, {semitoneWords(semitones)} {semitones < 0 ? 'lower' : 'higher'} (
        {keyName(other.shapeKey)} shapes, {capo}){gains.length ? `, ${gains.join('; ')}` : ' it lies as well'}
        .
      </Text>
      <Button size="compact-sm" variant="default" mt={6} onClick={onAct}>
        {action}
      </Button>
    </Alert>
  );
}
