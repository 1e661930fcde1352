/** What a person judges on a cell, from 0 (worst) to 4 (best). */
export interface Quality {
  id: string;
  label: string;
  /** One phrase for each score, 0 to 4. */
  anchors: readonly [string, string, string, string, string];
  /** How to look, in one sentence. */
  look: string;
  /** What a bad score says about a factor: it was too low, too high, or either. */
  fault: Record<string, 'too low' | 'too high' | 'either'>;
  /**
   * How much it counts where a factor is settled that another stop can make up for, and what does so: one further on, or one
   * that is gone to again because of that factor. 1 elsewhere.
   */
  counts?: Record<string, { as: number; since: string }>;
  /** Factors that have the last word on it: between levels as good as one another the one that is better in it is taken. */
  lasts?: readonly string[];
  /** It is read twice: as it comes, and after brushing. */
  brush?: true;
  /** What is weighed together when weights are chosen. */
  side: 'look' | 'strength';
}
