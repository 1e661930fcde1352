import type { Inspection } from '#core/inspect';
import { newest, valueWords } from './tune-sheet';
import { stopOf } from './stops';
import type { Known } from './causes';
import type { Symptom } from './symptoms';

/** A cause with what is known about it. */
export interface Suspect {
  label: string;
  tell: string;
  stop: string | undefined;
  kind: string | undefined;
  /** What speaks for and against it on this pair. */
  known: string[];
  weight: number;
}

/** What a file shows of its own, from its inspection; layers of the first millimetre are left out. */
export function seenInFile(inspection: Pick<Inspection, 'layers' | 'travel'>): NonNullable<Known['file']> {
  const layers = inspection.layers.filter((l) => l.z > 1);
  const jump = (of: (l: (typeof layers)[number]) => number) =>
    layers.slice(1).reduce((most, l, i) => {
      const [a, b] = [of(layers[i]!), of(l)];
      return a > 0 && b > 0 ? Math.max(most, a / b, b / a) : most;
    }, 1);
  return {
    crossings: inspection.travel.wallCrossings,
    layers: inspection.layers.length,
    layerTimeJump: jump((l) => l.time),
    speedJump: jump((l) => l.peakFlow),
  };
}

/**
 * Causes of a symptom in the order in which to check them: the usual order, moved by what is known of the
 * pair. What is settled and not shaken stands back, what is shaken or was never settled comes forward.
 */
export function causesOf(symptom: Symptom, evidence: Known): Suspect[] {
  const now = newest(evidence.values);
  return symptom.causes
    .map((cause, place) => {
      const known: string[] = [];
      let weight = -place;
      const stop = cause.stop === undefined ? undefined : stopOf(cause.stop);
      if (stop) {
        const own = now.filter((v) => stop.factors.includes(v.factor));
        const shaken = own.find((v) => v.state === 'shaken');
        if (shaken) {
          weight += 2;
          known.push(`${valueWords(shaken)} is shaken: ${shaken.shakenBy ?? ''}`);
        } else if (own.length > 0) {
          weight -= own.some((v) => v.state === 'steady') ? 3 : 2;
          known.push(
            `settled: ${own.map((v) => valueWords(v)).join(', ')}${own.some((v) => v.state === 'steady') ? ', steady' : ''}`,
          );
        } else {
          weight += 1;
          known.push('never settled on this pair');
        }
      }
      if (stop && stop.id === evidence.elsewhere) {
        weight -= 6;
        known.push('the trial that led here shows it at every level alike');
      }
      const more = cause.known?.(evidence);
      if (more) {
        weight += more.by;
        known.push(more.words);
      }
      return { label: cause.label, tell: cause.tell, stop: cause.stop, kind: cause.kind, known, weight };
    })
    .sort((a, b) => b.weight - a.weight);
}
