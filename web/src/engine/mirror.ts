/**
 * An arrangement in a worker, kept like the one on the screen: only measures that are others than before are sent, so
 * that an edit of a long piece costs no more than one of a short piece.
 */
import type { Arrangement, ScoreMeasure } from '#core/score';

/** What has to be known to make the new state out of the one before. */
export interface MirrorUpdate {
  /** Everything but the measures. */
  head: Omit<Arrangement, 'measures'>;
  /** In order: a measure of the state before by its place, or a new one. */
  measures: (number | ScoreMeasure)[];
}

/** The side that sends: remembers what the other side has. */
export class MirrorSender {
  private sent = new Map<ScoreMeasure, number>();

  update(arrangement: Arrangement): MirrorUpdate {
    const { measures, ...head } = arrangement;
    const update: MirrorUpdate = {
      head,
      measures: measures.map(measure => this.sent.get(measure) ?? measure),
    };
    this.sent = new Map(measures.map((measure, index) => [measure, index]));
    return update;
  }
}

/** The side that receives. */
export class MirrorReceiver {
  private measures: ScoreMeasure[] = [];

  receive({ head, measures }: MirrorUpdate): Arrangement {
    const before = this.measures;
    this.measures = measures.map(measure => (typeof measure === 'number' ? before[measure]! : measure));
    return { ...head, measures: this.measures };
  }
}
