import { TuneGate } from '../../parts/Gates';
import { AddSong } from '../add/AddSong';
import { SourceField } from '../add/AddTune';

/** The source of a tune, to be corrected in the writing that it was read from. */
export function SourceScreen() {
  return (
    <TuneGate>
      {tune =>
        tune.song === undefined ? (
          <SourceField key={tune.id} existing={tune} />
        ) : (
          <AddSong key={tune.id} existing={tune} />
        )
      }
    </TuneGate>
  );
}
