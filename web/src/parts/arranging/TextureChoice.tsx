import { TEXTURES, type TextureName, textureIn, textureOf } from '#core/arrange';
import type { Setup } from '#core/instrument';
import type { Tune } from '#core/tune';
import { Choice, type Option } from '../Choice';
import { TEXTURE_WORDS } from './arrangeWords';

interface TextureChoiceProps {
  tune: Tune;
  /** What it is played on, where that is settled: an open tuning has its own thumb. */
  setup?: Setup;
  /** The texture; undefined for what stands under `otherwise`. */
  value: TextureName | undefined;
  /** What it is called when none is chosen by name; left out where that can't be chosen. */
  otherwise: string | undefined;
  onChange: (texture: TextureName | undefined) => void;
}

/** How thumb and fingers go under a melody, by the names that players have for it, with what suits the tune and why. */
export function TextureChoice({ tune, setup, value, otherwise, onChange }: TextureChoiceProps) {
  const options: Option<TextureName | ''>[] = TEXTURES.filter(name => textureIn(name, tune.meter)).map(
    name => ({ value: name, label: TEXTURE_WORDS[name] }),
  );
  if (otherwise) options.unshift({ value: '', label: otherwise });
  const { name, why } = textureOf(tune, setup);
  return (
    <Choice
      label="Texture"
      options={options}
      description={value === undefined || value === name ? why : `Not what suits it best: ${why}`}
      value={value ?? ''}
      onChange={chosen => onChange(chosen || undefined)}
    />
  );
}
