import { Loader, Text } from '@mantine/core';
import { Link } from 'react-router';
import { lessonsIn } from '#core/practice';
import { storeWords } from '../../data/store';
import { timeOf } from '../../parts/dates';
import { useNow } from '../../parts/useNow';
import { pieceTitle } from '../pupils/usePieces';
import { useToday } from '../pupils/useToday';
import styles from './Shelf.module.css';

/** Today at a glance: who comes, and what everyone plays. */
export function TodayList() {
  const now = useNow();
  const { today, pupils, known, trouble } = useToday(now);
  if (trouble) return <Text size="sm">{storeWords(trouble)}.</Text>;
  if (!known) return <Loader size="sm" aria-label="Reading the day" />;
  const lessons = lessonsIn(pupils, now, 1);
  const playing = today.filter(({ pieces }) => pieces.length);
  return (
    <div className={styles.todayList}>
      {lessons.length ? (
        <ul>
          {lessons.map(({ pupil, at, minutes }) => (
            <li key={`${pupil.id} ${at}`}>
              <strong>{timeOf(at)}</strong> <Link to={`/pupils/${pupil.id}`}>{pupil.name}</Link>, {minutes}{' '}
              min
            </li>
          ))}
        </ul>
      ) : (
        <Text size="sm">Nobody comes today.</Text>
      )}
      {playing.length > 0 && (
        <>
          <Text size="sm" fw={600} mt={8}>
            At home
          </Text>
          <ul>
            {playing.map(({ pupil, own, pieces }) => (
              <li key={pupil.id}>
                {pupil.name}:{' '}
                {pieces
                  .map(({ learning }) => {
                    const piece = own.find(other => other.learning.id === learning.id);
                    return piece ? pieceTitle(piece) : 'a piece';
                  })
                  .join(', ')}
              </li>
            ))}
          </ul>
        </>
      )}
      <Link to="/pupils">All pupils</Link>
    </div>
  );
}
