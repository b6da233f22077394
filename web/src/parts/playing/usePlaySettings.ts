import { useLocalStorage } from '@mantine/hooks';
import { DEFAULT_PLAY, LESSON_PLAY, type PlaySettings } from './playSettings';

/** By what they are kept, and how they begin. */
const PLACES = {
  workbench: { key: 'play-settings', usual: DEFAULT_PLAY },
  lesson: { key: 'lesson-play', usual: LESSON_PLAY },
};

/** The settings of playing; those that a browser kept from before there were more of them are filled up. */
export function usePlaySettings(
  place: keyof typeof PLACES,
): [PlaySettings, (settings: PlaySettings) => void] {
  const { key, usual } = PLACES[place];
  const [settings, set] = useLocalStorage<PlaySettings>({
    key,
    defaultValue: usual,
    deserialize: text => {
      try {
        return { ...usual, ...(text && (JSON.parse(text) as Partial<PlaySettings>)) };
      } catch {
        return usual;
      }
    },
  });
  return [settings, set];
}
