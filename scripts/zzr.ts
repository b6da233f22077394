import { readFileSync } from 'node:fs';
import { planCapo } from '#core/capo';
import { standardSetup } from '#core/instrument';
import { DEFAULT_HAND } from '#core/hand';
import { readAbc } from '#core/formats';
const [f, t] = process.argv.slice(2);
const tune = readAbc(readFileSync(f!,'utf8')).map(e=>e.tune).find(x => x.title.includes(t!))!;
const setup = standardSetup('guitar');
for (const o of [undefined, 0, -12]) for (const p of (planCapo(tune, setup, DEFAULT_HAND, 'auto', { overBass: true, ...(o !== undefined && { octave: o }) } as any)).slice(0,4)) console.log(o, p.shapeKey.tonic, p.setup.capo, p.cost.toFixed(2), 'crowded', p.crowded.toFixed(2), 'oct', p.octaveShift, Object.entries(p.parts).map(([k,v])=>k+' '+(v as number).toFixed(2)).join(' '), p.melody.highestFret);
