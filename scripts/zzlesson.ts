import { readFileSync } from 'node:fs';
import { readBundle } from '../core/formats/bundle';
import { outlinedSteps, freshOutline } from '../core/lesson';
const { bundle } = readBundle(readFileSync('demo/studio.json','utf8')) as any;
for (const a of bundle.arrangements) {
  if (process.argv[2] && !a.id.includes(process.argv[2])) continue;
  console.log('\n#####', a.id, a.title, 'capo', a.setup.capo);
  for (const s of outlinedSteps(a, freshOutline(a.id))) {
    console.log(`\n== ${s.title} [${s.measures.map((m:number)=>m).join(',')}] ${s.minutes}min | ${s.advice}`);
    if (s.count) console.log('count:', s.count);
    for (const m of s.moments ?? []) console.log(`  ${m.count.padEnd(4)} | ${m.pluck} | ${m.fingers}`);
  }
}
