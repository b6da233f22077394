/** Whose rows stand in a text: "Guitar 1", "Gtr. 2", "Mandolin" over those of one of several players. */
import { kindOf, playerOf, sectionOf } from './beside';
import type { Beside, System } from './lines';

interface Player {
  name: string;
  systems: System[];
  /** Line of the first name. */
  line: number;
  /** What stands in brackets behind it. */
  said: string[];
}

/**
 * The players of a text and their rows, in the order in which they come in; their names are taken off the rows then. One
 * where all is for one player. Sections that are named over the rows of one are those of the others too.
 */
export function playersOf(systems: readonly System[]): Player[] {
  const nameOver = ({ above }: System) => {
    for (const { line, text } of above) {
      const found = sectionOf(text);
      const player = found && playerOf(found.name);
      if (player) return { line, player, ...found };
    }
    return undefined;
  };
  const named = systems.map(nameOver);
  const players = new Map<string, Player>();
  let last: Player | undefined;
  for (const [i, system] of systems.entries()) {
    const own = named[i];
    if (own || !last) {
      const key = own?.player ?? '';
      last = players.get(key) ?? {
        name: own?.name ?? 'the first rows',
        systems: [],
        line: own?.line ?? system.rows[0]!.line,
        said: [],
      };
      players.set(key, last);
      if (own?.said) last.said.push(own.said);
    }
    last.systems.push(system);
  }
  const found = [...players.values()];
  if (found.length < 2) return found;
  shareChords(systems, found);
  let section: { over: Player; lines: Beside[] } | undefined;
  for (const [i, system] of systems.entries()) {
    const player = found.find(own => own.systems.includes(system))!;
    system.above = system.above.filter(own => own.line !== named[i]?.line);
    const lines = system.above.filter(own => kindOf(own.text) === 'section');
    if (lines.length) section = { over: player, lines };
    else if (section && section.over !== player && named[i]) {
      system.above.unshift(...section.lines);
      section = undefined;
    }
  }
  return found;
}

/** Columns of the bars of a system. */
const barsOf = ({ rows }: System) =>
  [...(rows[0]?.text ?? '').matchAll(/\|/g)].map(({ index }) => index).join();

/**
 * Chords that stand over the rows of one player are those of the others too, whose rows come below with their bars in the
 * same columns. With a capo of one's own they may be named by other shapes: then they are left where they are.
 */
function shareChords(systems: readonly System[], players: readonly Player[]): void {
  if (players.some(({ said }) => said.some(own => /capo/i.test(own)))) return;
  let above: { over: Set<Player>; bars: string; chords: Beside | undefined } | undefined;
  for (const system of systems) {
    const player = players.find(own => own.systems.includes(system))!;
    const own = system.above.find(({ text }) => kindOf(text) === 'chords');
    const isBelow = above && !own && !above.over.has(player) && above.bars === barsOf(system);
    if (above && isBelow) {
      above.over.add(player);
      if (above.chords) system.above.push(above.chords);
    } else above = { over: new Set([player]), bars: barsOf(system), chords: own };
  }
}
