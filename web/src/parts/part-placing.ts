import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { from, switchMap, type Observable } from 'rxjs';
import { sentence, show, type Progress } from '#core/base';
import { wholeCut, type Cut, type Pose } from '#core/part';
import type { KeptFile } from '#core/route';
import { partTrial, type PartPlaced } from '#core/trial';
import { Keeper } from '../data/keeper';
import { madeOf } from '../data/made-of';
import { TrialMaker } from '../data/trial-maker';
import type { PartView } from '../work/part-info';
import { WorkerPool, type Working } from '../work/worker-pool';
import { asLeft, type Placing } from './as-left';
import { boxOfCut } from './piece-box';
import { stood } from './standing';

/** How work on a part stands. */
export type Doing<T> =
  | { state: 'idle' }
  | { state: 'working'; progress: Progress }
  | { state: 'done'; value: T }
  | { state: 'refused'; faults: string[] };

/** How far work is, in words. */
export const howFar = (d: Doing<unknown>): string =>
  d.state === 'working' && d.progress.of > 0 ? `${show((100 * d.progress.done) / d.progress.of, 0)} %` : '';

/** What printing a piece takes. */
export interface Takes {
  time: number;
  mass: number;
}

/** An edit stands still so long before the part is looked over anew, ms. */
const STILL = 150;
const MOST_UNDONE = 200;
/** Pieces whose printing time is remembered. */
const MOST_KNOWN = 12;

const refused = (faults: readonly string[]): { state: 'refused'; faults: string[] } => ({
  state: 'refused',
  faults: [...faults],
});

/** The part of a page: how it stands, what is seen on it so, what it takes to print; every step can be undone. */
@Injectable()
export class PartPlacing {
  private readonly keeper = inject(Keeper);
  private readonly pool = inject(WorkerPool);
  private readonly maker = inject(TrialMaker);

  readonly file = signal<KeptFile | undefined>(undefined);
  readonly placing = signal<Placing | undefined>(undefined);
  private readonly past = signal<Placing[]>([]);
  private readonly future = signal<Placing[]>([]);
  readonly undoable = computed(() => this.past().length > 0);
  readonly redoable = computed(() => this.future().length > 0);

  readonly view = signal<Doing<PartView>>({ state: 'idle' });
  /** What is seen on the part as it stands. */
  readonly placed = signal<Doing<PartPlaced>>({ state: 'idle' });
  /** What the piece and the whole part take, by how they stand. */
  private readonly taken = signal<ReadonlyMap<string, Doing<Takes>>>(new Map());

  private readonly pair = computed(() => this.keeper.currentPair());
  readonly context = computed(() => this.keeper.contextOf(this.pair()));
  readonly baseline = computed(() => {
    const pair = this.pair();
    return pair && this.maker.baselineOf(pair);
  });
  private readonly lines = computed(
    () => {
      const { layerHeight, lineWidth } = this.baseline() ?? { layerHeight: 0.2, lineWidth: 0.45 };
      return { layerHeight, lineWidth };
    },
    { equal: (a, b) => a.layerHeight === b.layerHeight && a.lineWidth === b.lineWidth },
  );

  /** The whole part as it stands, from its triangles: known at once. */
  readonly stood = computed(() => {
    const [view, placing] = [this.view(), this.placing()];
    return view.state === 'done' && placing ? stood(view.value.corners, placing.pose) : undefined;
  });

  readonly posed = computed(() => this.placing()?.pose);
  /** Of the whole part as it stands, mm. */
  readonly size = computed(() => this.stood()?.size ?? { width: 0, depth: 0, height: 0 });
  readonly height = computed(() => this.size().height);
  readonly drawing = computed(() => {
    const v = this.view();
    return v.state === 'done' ? v.value : undefined;
  });
  /** What was looked over last; a moment after an edit it is still that of before. */
  readonly last = computed(() => {
    const p = this.placed();
    return p.state === 'done' ? p.value : undefined;
  });
  /** What was looked over of the part as it stands now. */
  readonly now = computed(() => {
    const [last, placing] = [this.last(), this.placing()];
    const same = last && placing && JSON.stringify(last.part.pose) === JSON.stringify(placing.pose);
    const cut = placing?.cut ?? wholeCut;
    const tools = placing && new Set(placing.tools).size > 1 ? placing.tools : undefined;
    return same && JSON.stringify([last.part.cut, last.part.tools]) === JSON.stringify([cut, tools]) ? last : undefined;
  });
  /** The box that cuts out what is printed, as far as the part goes; while nothing is drawn, of no size. */
  readonly pieceBox = computed(() => boxOfCut(this.placing()?.cut, this.size()));

  /** On what of the pose the drawing in space rests: the rest turns what is drawn. */
  private readonly drawn = computed(
    () => {
      const pose = this.placing()?.pose;
      return pose && { object: pose.object, mirror: pose.mirror };
    },
    { equal: (a, b) => a?.object === b?.object && a?.mirror === b?.mirror },
  );

  constructor() {
    effect((onCleanup) => {
      const [file, drawn] = [this.file(), this.drawn()];
      if (!file || !drawn) return;
      const work = this.withFile(file, (blob) => this.pool.view(file, blob, drawn)).subscribe((said) =>
        this.hear(this.view, said),
      );
      onCleanup(() => work.unsubscribe());
    });
    // Colours that the file gives are tools, as far as the printer has them; what the person chose stays.
    effect(() => {
      const [view, tools] = [this.view(), this.context()?.printer.tools ?? 1];
      if (view.state !== 'done' || tools < 2) return;
      const colours = view.value.objects.map((o) => o.colour ?? '');
      const known = [...new Set(colours)];
      const placing = untracked(this.placing);
      if (known.length < 2 || !placing || placing.tools) return;
      this.placing.set({ ...placing, tools: colours.map((c) => Math.min(tools, known.indexOf(c) + 1)) });
    });
    effect((onCleanup) => {
      const [file, placing, lines] = [this.file(), this.placing(), this.lines()];
      if (!file || !placing) return;
      const { pose, cut, tools } = placing;
      let stop = () => {};
      const timer = setTimeout(() => {
        const work = this.withFile(file, (blob) => this.pool.place(file, blob, { pose, cut, tools, lines })).subscribe(
          (said) => this.hear(this.placed, said),
        );
        stop = () => work.unsubscribe();
      }, STILL);
      onCleanup(() => {
        clearTimeout(timer);
        stop();
        if (untracked(this.placed).state === 'working') this.placed.set({ state: 'idle' });
      });
    });
    effect((onCleanup) => {
      const [placed, context, baseline] = [this.placed(), this.context(), this.baseline()];
      if (placed.state !== 'done' || !context || !baseline) return;
      const { part, looked } = placed.value;
      // It would be refused, and that is said where it was looked over.
      if (looked.openLayers > 0) return;
      const key = this.keyOf({ pose: part.pose, cut: part.cut, tools: part.tools });
      if (untracked(this.taken).get(key)?.state === 'done') return;
      const note = (doing: Doing<Takes>) =>
        this.taken.update((m) => new Map([...m].filter(([k]) => k !== key).slice(1 - MOST_KNOWN)).set(key, doing));
      note({ state: 'working', progress: { stage: 'starting', done: 0, of: 1 } });
      const work = madeOf(this.pool, this.keeper, partTrial(part, context, baseline)).subscribe((said) => {
        if ('progress' in said) note({ state: 'working', progress: said.progress });
        else if (!said.result.ok) note(refused(said.result.faults.map(sentence)));
        else {
          const { time, filament } = said.result.value.report;
          note({ state: 'done', value: { time, mass: filament.mass } });
        }
      });
      onCleanup(() => {
        work.unsubscribe();
        if (untracked(this.taken).get(key)?.state === 'working') note({ state: 'idle' });
      });
    });
  }

  /** What the piece takes as it stands now, and the whole part where that was made too. */
  readonly takes = computed(() => {
    const placing = this.placing();
    if (!placing) return { piece: undefined, whole: undefined };
    return {
      piece: this.taken().get(this.keyOf({ ...placing, cut: placing.cut ?? wholeCut })),
      whole: placing.cut ? this.taken().get(this.keyOf({ ...placing, cut: wholeCut })) : undefined,
    };
  });

  private keyOf({ pose, cut, tools }: Placing): string {
    const several = new Set(tools).size > 1 ? tools : undefined;
    return JSON.stringify([pose, cut, several, this.pair()?.id]);
  }

  /** Shows a part, standing as it was left. @param as another way in which it stands, as in a trial */
  async open(file: KeptFile, as?: Placing): Promise<void> {
    // The same part is drawn as it was: only another one is read anew.
    if (this.file()?.hash !== file.hash) this.view.set({ state: 'idle' });
    this.placed.set({ state: 'idle' });
    this.past.set([]);
    this.future.set([]);
    const left = as ?? (await asLeft(this.keeper, file));
    this.file.set(file);
    this.placing.set(left);
  }

  /** Stands otherwise from now on. */
  to(next: Placing): void {
    const now = this.placing();
    if (!now || JSON.stringify(now) === JSON.stringify(next)) return;
    this.past.update((p) => [...p, now].slice(-MOST_UNDONE));
    this.future.set([]);
    this.set(next);
  }

  /** Another pose; what was cut lies elsewhere then, and is put back. */
  pose(change: Partial<Pose>): void {
    const now = this.placing();
    if (now) this.to({ pose: { ...now.pose, ...change }, ...(now.tools && { tools: now.tools }) });
  }

  cut(cut: Cut | undefined): void {
    const now = this.placing();
    if (!now) return;
    const { cut: _, ...rest } = now;
    this.to(cut ? { ...rest, cut } : rest);
  }

  /** The tool of each object. */
  tools(tools: number[]): void {
    const now = this.placing();
    if (now) this.to({ ...now, tools });
  }

  undo(): void {
    this.step(this.past, this.future);
  }

  redo(): void {
    this.step(this.future, this.past);
  }

  private step(out: typeof this.past, into: typeof this.past): void {
    const [now, next] = [this.placing(), out().at(-1)];
    if (!now || !next) return;
    out.update((list) => list.slice(0, -1));
    into.update((list) => [...list, now]);
    this.set(next);
  }

  private set(placing: Placing): void {
    this.placing.set(placing);
    const file = this.file();
    if (file) this.keeper.meta(`part/${file.hash}`, placing);
  }

  private withFile<T>(file: KeptFile, work: (blob: Blob | undefined) => Observable<T>): Observable<T> {
    return from(this.keeper.file(file.hash)).pipe(switchMap(work));
  }

  private hear<T>(into: ReturnType<typeof signal<Doing<T>>>, said: Working<T>): void {
    if ('progress' in said) into.set({ state: 'working', progress: said.progress });
    else if (said.result.ok) into.set({ state: 'done', value: said.result.value });
    else into.set(refused(said.result.faults.map(sentence)));
  }
}
