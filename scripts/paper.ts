/** Prints the papers of a piece as PDF: what the app's own screens show, through the Chromium that the tests use. */
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { extname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { chromium } from '@playwright/test';
import { freshPlan, takenKey } from '#core/capo';
import { readBundle, writeBundle } from '#core/formats/bundle';
import type { SheetChoices } from '#core/score';
import { main as convert } from '../cli/convert';
import { InputError, type Outcome, outcomeInTime, runIfStarted, UsageError } from '../cli/io';
import { CHROMIUM } from './browser';
import { serveBuiltApp } from './serve';

/** Where each paper is, and what is chosen for it. */
const KINDS: Record<string, { of: 'tune' | 'arrangement'; path: string; chosen?: SheetChoices['choices'] }> =
  {
    neck: { of: 'arrangement', path: 'handout', chosen: { sheet: 'neck' } },
    tab: { of: 'arrangement', path: 'handout', chosen: { sheet: 'tab', rhythm: true } },
    staff: { of: 'arrangement', path: 'handout', chosen: { sheet: 'tab', staff: true } },
    words: { of: 'tune', path: 'words' },
    lesson: { of: 'arrangement', path: 'handout', chosen: { sheet: 'lesson' } },
    capo: { of: 'tune', path: 'chords', chosen: { sheet: 'capo' } },
    instead: { of: 'tune', path: 'chords', chosen: { sheet: 'instead' } },
    changes: { of: 'tune', path: 'chords', chosen: { sheet: 'changes' } },
  };

const HELP = `Usage: npm run paper -- IN --kind KIND --to OUT.pdf [options]

  IN              what "npm run convert" reads: .txt .tab .abc .cho .musicxml .mid .json
  --kind KIND     ${Object.keys(KINDS).join(' | ')}
  --piece N       which of several arrangements or parts in IN, counted from 1
  --paper SIZE    a4 | letter                                           (a4)
  --names NAMES   both | shape | sounding                               (both)
  --large         large print
  --left-handed   pictures for the left hand
  --help          this text

Exit: 0 done, 1 IN can't be read or printed, 2 wrong usage.`;

function asked(argv: string[]) {
  try {
    return parseArgs({
      args: argv,
      allowPositionals: true,
      options: {
        kind: { type: 'string' },
        to: { type: 'string' },
        piece: { type: 'string' },
        paper: { type: 'string', default: 'a4' },
        names: { type: 'string', default: 'both' },
        large: { type: 'boolean', default: false },
        'left-handed': { type: 'boolean', default: false },
        help: { type: 'boolean', default: false },
      },
    });
  } catch (cause) {
    throw new UsageError(cause instanceof Error ? cause.message : String(cause));
  }
}

/** A file as a bundle of one arrangement with its tune and plan, and what is chosen for the paper. */
function bundleOf(
  file: string,
  piece: string | undefined,
  folder: string,
  kind: (typeof KINDS)[string],
  large: boolean,
): { tune: string; arrangement: string } {
  const out = join(folder, 'piece.json');
  const { code, err } = convert([
    file,
    '--to',
    out,
    '--fingers',
    ...(piece === undefined ? [] : ['--piece', piece]),
  ]);
  // Without the help of the other command.
  const wrong = err.split('\n\n')[0]!.trim();
  if (code === 2) throw new UsageError(wrong);
  if (code) throw new InputError(wrong);
  const { bundle } = readBundle(readFileSync(out, 'utf8'));
  const [tune, arrangement] = [bundle?.tunes[0], bundle?.arrangements[0]];
  if (!bundle || !tune || !arrangement) throw new InputError(`${file}: there is no arrangement in this file`);
  if (!bundle.plans.length)
    bundle.plans.push({
      ...freshPlan(tune.id),
      ...takenKey({ setup: arrangement.setup, transposition: arrangement.transposition ?? 0 }),
    });
  const ids = { tune: tune.id, arrangement: arrangement.id };
  bundle.sheets.push({ id: ids[kind.of], choices: { ...kind.chosen, large } });
  writeFileSync(out, writeBundle(bundle));
  return ids;
}

/** Takes a bundle into an empty studio and prints one of its screens, with what is chosen for papers in general. */
async function printed(bundle: string, path: string, to: string, chosen: Record<string, unknown>) {
  const served = await serveBuiltApp();
  const browser = await chromium.launch(CHROMIUM);
  try {
    const page = await browser.newPage({ viewport: { width: 1000, height: 1300 } });
    await page.addInitScript(store => {
      for (const [key, value] of Object.entries(store)) localStorage.setItem(key, JSON.stringify(value));
    }, chosen);
    await page.goto(served.url);
    await page.locator('input[type=file]').setInputFiles(bundle);
    await page.getByRole('button', { name: 'Take it in' }).click();
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    await page.goto(`${served.url}/${path}`);
    await page.locator('.paper-paper footer').waitFor();
    // Pictures and staves come when they are worked out.
    await page.waitForLoadState('networkidle');
    await page.evaluate(() => document.fonts.ready);
    await page.waitForTimeout(1500);
    await page.pdf({ path: to, preferCSSPageSize: true, printBackground: true });
  } finally {
    await browser.close();
    served.close();
  }
}

async function print(argv: string[]): Promise<string> {
  const { values, positionals } = asked(argv);
  if (values.help) return HELP;
  const [file, ...more] = positionals;
  if (!file || more.length) throw new UsageError('exactly one file to be read is needed');
  const kind = KINDS[values.kind ?? ''];
  if (!kind) throw new UsageError(`--kind is one of ${Object.keys(KINDS).join(', ')}`);
  if (!values.to || extname(values.to).toLowerCase() !== '.pdf')
    throw new UsageError('--to OUT.pdf is needed');
  if (!['a4', 'letter'].includes(values.paper)) throw new UsageError('--paper is a4 or letter');
  if (!['both', 'shape', 'sounding'].includes(values.names))
    throw new UsageError('--names is both, shape or sounding');
  if (!existsSync(fileURLToPath(new URL('../dist/index.html', import.meta.url))))
    throw new InputError('the app is not built yet: run "npm run build" first');
  const folder = mkdtempSync(join(tmpdir(), 'paper-'));
  try {
    const ids = bundleOf(file, values.piece, folder, kind, values.large);
    await printed(join(folder, 'piece.json'), `${kind.of}/${ids[kind.of]}/${kind.path}`, values.to, {
      paper: values.paper,
      'chord-names': values.names,
      'left-handed': values['left-handed'],
    });
  } finally {
    rmSync(folder, { recursive: true });
  }
  return `${file}: ${values.kind} -> ${values.to}`;
}

/** Does what `npm run paper` does, without ending the process. */
export const main = (argv: string[]): Promise<Outcome> => outcomeInTime(HELP, () => print(argv));

await runIfStarted(import.meta.url, main);
