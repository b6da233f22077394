/**
 * Fits the weights that choose between the fingerings of one shape to the open dataset @tombatossals/chords-db:
 * softmax regression, then a coordinate search for agreement. Learns from the roots C to F, reports on F♯ to B.
 */
import { GRIP_TRAITS, type GripTrait } from '#core/hand';
import { datasetFingerings, type FingeringCase, isTraining } from '../core/testing/dataset';

const traits = Object.keys(GRIP_TRAITS) as GripTrait[];
const { cases } = datasetFingerings();
const train = cases.filter(isTraining);
const test = cases.filter(c => !isTraining(c));
let weights = traits.map(() => 0.5);

const costs = (c: FingeringCase) =>
  c.traits.map(row => row.reduce((sum, value, i) => sum + value * weights[i]!, 0));

function softmaxFit(steps: number): void {
  const mean = weights.map(() => 0);
  const square = weights.map(() => 0);
  for (let step = 1; step <= steps; step++) {
    const gradient = weights.map(() => 0);
    for (const c of train) {
      const cost = costs(c);
      const least = Math.min(...cost);
      const odds = cost.map(value => Math.exp(least - value));
      const all = odds.reduce((a, b) => a + b, 0);
      for (const [j, row] of c.traits.entries()) {
        const error = odds[j]! / all - (j === c.stored ? 1 : 0);
        for (const [i, value] of row.entries()) gradient[i]! -= error * value;
      }
    }
    weights = weights.map((weight, i) => {
      const slope = gradient[i]! / train.length;
      mean[i] = 0.9 * mean[i]! + 0.1 * slope;
      square[i] = 0.999 * square[i]! + 0.001 * slope * slope;
      const move = mean[i]! / (1 - 0.9 ** step) / (Math.sqrt(square[i]! / (1 - 0.999 ** step)) + 1e-8);
      return Math.max(0, weight - 0.05 * move);
    });
  }
}

function merit(): number {
  let agreed = 0;
  let surprise = 0;
  for (const c of train) {
    const cost = costs(c);
    const least = Math.min(...cost);
    if (cost.findIndex(value => value < least + 1e-9) === c.stored) agreed += 1;
    surprise +=
      cost[c.stored]! - least + Math.log(cost.reduce((sum, value) => sum + Math.exp(least - value), 0));
  }
  return agreed - 0.02 * surprise;
}

function coordinateSearch(): void {
  let best = merit();
  for (let improved = true; improved; ) {
    improved = false;
    for (const i of weights.keys()) {
      const start = weights[i]!;
      let keep = start;
      for (const move of [-1, -0.6, -0.35, -0.2, -0.1, -0.05, 0.05, 0.1, 0.2, 0.35, 0.6, 1]) {
        const tried = start + move * (traits[i] === 'strainMm' ? 0.1 : 1);
        if (tried < 0) continue;
        weights[i] = tried;
        const value = merit();
        if (value > best + 1e-9) {
          best = value;
          keep = tried;
          improved = true;
        }
      }
      weights[i] = keep;
    }
  }
}

softmaxFit(1500);
coordinateSearch();
const unit = weights[traits.indexOf('finger')]!;
console.log(Object.fromEntries(traits.map((trait, i) => [trait, Number((weights[i]! / unit).toFixed(3))])));
for (const [name, set] of [
  ['learned from', train],
  ['reported on', test],
] as const) {
  const ranks = set.map(c => {
    const cost = costs(c);
    return cost.filter(value => value < cost[c.stored]! - 1e-9).length;
  });
  const share = (most: number) => ((100 * ranks.filter(rank => rank < most).length) / set.length).toFixed(1);
  console.log(`${name}: ${set.length} shapes, first choice ${share(1)} %, among three ${share(3)} %`);
}
