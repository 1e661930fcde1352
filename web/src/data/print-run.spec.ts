import { TestBed } from '@angular/core/testing';
import { Subject } from 'rxjs';
import { done } from '#core/base';
import { demoData, demoPair } from '#core/demo';
import { ownTraits, PracticeFirmware } from '#core/lab';
import { commandsOf } from '#core/wire';
import type { OffTheBed } from '../work/practice.worker';
import { Keeper } from './keeper';
import { PrintRun } from './print-run';
import { PRACTICE, printedPlan, type Job, type PracticeLike } from './run-job';

const { context } = demoPair('heron-marsh-petg')!;
const traits = ownTraits(context, '2026-11-28').printer;

/** A machine that outlives the page, and a wire to it that the test can cut. */
class Bench {
  machine = new PracticeFirmware(context.printer, traits);
  cut = false;
  private pages = 0;
  readonly developed: string[][] = [];

  device(): PracticeLike {
    const said = new Subject<readonly string[]>();
    // A page that is gone hears and says nothing.
    const mine = ++this.pages;
    const turn = () => {
      if (this.cut || mine !== this.pages) return;
      this.machine.pass(2);
      const lines = this.machine.hear();
      if (lines.length > 0) said.next(lines);
    };
    const timer = setInterval(turn, 5);
    const bed: OffTheBed = {
      mass: 2,
      time: 60,
      photos: [
        {
          name: 'from the front',
          jpeg: new ArrayBuffer(4),
          hash: 'ab'.repeat(32),
          width: 4,
          height: 3,
          corners: [
            [0, 0],
            [1, 0],
            [1, 1],
            [0, 1],
          ],
        },
      ],
    };
    return {
      kind: 'practice',
      lines$: said,
      connect: () => Promise.resolve(),
      write: (text) => {
        if (!this.cut && mine === this.pages) this.machine.receive(text);
      },
      close: () => clearInterval(timer),
      pace: () => undefined,
      develop: () => {
        this.developed.push([...this.machine.executed]);
        return Promise.resolve(done(bed));
      },
    };
  }
}

const demo = demoData().records.find((r) => r.id === 'demo-heron-temperature')!;
const job = (over: Partial<Job> = {}): Job => ({
  via: { kind: 'practice' },
  mass: 2,
  trial: 'demo-heron-temperature',
  index: 0,
  byPrint: false,
  title: 'Temperature tower',
  plan: printedPlan(demo),
  context,
  fast: true,
  today: '2026-11-28',
  layers: [{ z: 0.2, time: 5 }],
  wanted: [],
  bands: [],
  ...over,
});
const file = ['; a test', 'G28', 'M83', 'M109 S200', 'G1 X20 Y20 Z0.2 F6000'];
for (let i = 0; i < 400; i++)
  file.push(`G1 X${20 + (i % 90)} Y${20 + (i % 50)} Z${(0.2 + 0.02 * i).toFixed(2)} E0.1 F12000`);
file.push('M104 S0', 'M140 S0');
const bytes = new TextEncoder().encode(file.join('\n'));
const commands = commandsOf(file.join('\n'));

const until = async (what: () => boolean, most = 8000) => {
  const end = performance.now() + most;
  while (!what() && performance.now() < end) await new Promise((r) => setTimeout(r, 10));
  expect(what()).toBe(true);
};
/** Without the questions with which a print begins. */
const printed = (lines: readonly string[]) => lines.filter((l) => l !== 'M105');

let n = 0;
describe('a print under way', () => {
  let bench: Bench;
  const open = async (name: string, fresh = true) => {
    TestBed.resetTestingModule();
    TestBed.configureTestingModule({ providers: [{ provide: PRACTICE, useValue: () => bench.device() }] });
    const keeper = TestBed.inject(Keeper);
    await keeper.open(name);
    if (fresh) await keeper.addAll(demoData());
    return { keeper, run: TestBed.inject(PrintRun) };
  };
  beforeEach(() => {
    bench = new Bench();
  });

  it('sends every command once and in order, and notes the print with its photographs', async () => {
    const { keeper, run } = await open(`run-${n++}`);
    const before = keeper.find('records', 'demo-heron-temperature')!;
    expect(run.start(job(), bytes)).toBe(true);
    expect(run.start(job(), bytes)).toBe(false);
    await until(() => run.under()?.state === 'done');
    expect(printed(bench.machine.executed)).toEqual(commands);
    const after = keeper.find('records', 'demo-heron-temperature')!;
    expect(after.prints).toHaveLength(before.prints.length + 1);
    expect(after.prints.at(-1)).toMatchObject({ practice: true, took: { mass: 2, time: 60 } });
    expect(after.photos!.at(-1)!.print).toBe(after.prints.at(-1)!.id);
    run.putAway();
    expect(run.under()).toBeUndefined();
  });

  it('goes on where it was when the wire comes back, with nothing lost and nothing twice', async () => {
    const { run } = await open(`run-${n++}`);
    run.start(job(), bytes);
    await until(() => (run.under()?.place ?? 0) > 60);
    bench.cut = true;
    await new Promise((r) => setTimeout(r, 400));
    bench.cut = false;
    await until(() => run.under()?.state === 'done', 20_000);
    expect(printed(bench.machine.executed)).toEqual(commands);
  }, 30_000);

  it('goes on where it was after the page is loaded anew', async () => {
    const name = `run-${n++}`;
    const first = await open(name);
    first.run.start(job(), bytes);
    await until(() => (first.run.under()?.place ?? 0) > 100);
    bench.cut = true;
    await new Promise((r) => setTimeout(r, 700));
    await first.keeper.settled();
    const second = await open(name, false);
    bench.cut = false;
    await second.run.recall();
    expect(second.run.under()?.title).toBe('Temperature tower');
    await until(() => second.run.under()?.state === 'done', 20_000);
    expect(printed(bench.machine.executed)).toEqual(commands);
  }, 40_000);

  it('is paused with the head lifted and parked, and goes on from where it was', async () => {
    const { run } = await open(`run-${n++}`);
    run.start(job(), bytes);
    await until(() => (run.under()?.place ?? 0) > 60);
    run.pause();
    run.pause();
    await until(() => run.under()?.state === 'paused' && bench.machine.standing.idle);
    const stood = bench.machine.standing;
    await new Promise((r) => setTimeout(r, 300));
    expect(bench.machine.standing.executed).toBe(stood.executed);
    expect(bench.machine.standing.target).toBe(200);
    const at = bench.machine.executed.length;
    const last = bench.machine.executed.filter((l) => /Z/.test(l)).at(-1)!;
    expect(Number(/Z([\d.]+)/.exec(last)![1])).toBeGreaterThan(10);
    run.goOn();
    await until(() => run.under()?.state === 'done');
    const all = printed(bench.machine.executed);
    expect(bench.machine.executed.length).toBeGreaterThan(at);
    // What was put in is drawn back and pushed forward again by as much.
    const added = all.filter((l) => !commands.includes(l));
    const pushed = added.flatMap((l) => Number(/E(-?[\d.]+)/.exec(l)?.[1] ?? 0)).reduce((a, b) => a + b, 0);
    expect(pushed).toBeCloseTo(0, 9);
    expect(all.filter((l) => commands.includes(l))).toEqual(commands);
  });

  it('is still paused after the page is loaded anew, and prints nothing until it is told to go on', async () => {
    const name = `run-${n++}`;
    const first = await open(name);
    first.run.start(job(), bytes);
    await until(() => (first.run.under()?.place ?? 0) > 60);
    first.run.pause();
    await until(() => first.run.under()?.state === 'paused' && bench.machine.standing.idle);
    await new Promise((r) => setTimeout(r, 300));
    await first.keeper.settled();
    const second = await open(name, false);
    await second.run.recall();
    await until(() => second.run.under()?.state === 'paused');
    const stood = bench.machine.standing.executed;
    await new Promise((r) => setTimeout(r, 600));
    expect(bench.machine.standing.executed).toBe(stood);
    second.run.goOn();
    await until(() => second.run.under()?.state === 'done');
    const all = printed(bench.machine.executed);
    expect(all.filter((l) => commands.includes(l))).toEqual(commands);
    const added = all.filter((l) => !commands.includes(l));
    expect(added.flatMap((l) => Number(/E(-?[\d.]+)/.exec(l)?.[1] ?? 0)).reduce((a, b) => a + b, 0)).toBeCloseTo(0, 9);
  }, 20_000);

  it('is stopped at once with heaters off; what is printed can be looked at, or put away', async () => {
    const { keeper, run } = await open(`run-${n++}`);
    run.start(job(), bytes);
    await until(() => (run.under()?.place ?? 0) > 60);
    run.stop();
    expect(run.under()?.state).toBe('stopped');
    expect(run.active()).toBe(false);
    expect(bench.machine.standing).toMatchObject({ halted: true, target: 0, bedTarget: 0 });
    expect(await keeper.recall('run')).toBeUndefined();
    await run.develop();
    expect(run.under()?.state).toBe('done');
    expect(bench.developed[0]!.length).toBeLessThan(commands.length);
  });

  it('measures what the nozzle shows while each band is printed, and keeps it with the print', async () => {
    const { keeper, run } = await open(`run-${n++}`);
    // A heater that hardly cools: told 180 °C halfway up, it is still near 200 at the top.
    bench.machine = new PracticeFirmware(context.printer, { ...traits, cools: 0.05, sensorError: 0, overshoot: 0 });
    const lagging = file.map((line) => line.replace('F12000', 'F400'));
    lagging.splice(205, 0, 'M104 S180');
    const bands = [
      { cell: 0, from: 0, to: 4.2 },
      { cell: 1, from: 4.2, to: 8.3 },
    ];
    run.start(job({ bands }), new TextEncoder().encode(lagging.join('\n')));
    await until(() => run.under()?.state === 'done');
    const { heated } = keeper.find('records', demo.id)!.prints.at(-1)!;
    expect(heated!.map((h) => h.cell)).toEqual([0, 1]);
    expect(Math.abs(heated![0]!.nozzle - 200)).toBeLessThan(2.5);
    expect(heated![1]!.nozzle).toBeGreaterThan(190);
  });

  it('says that the plan was changed while it printed, and that the trial is gone', async () => {
    const { keeper, run } = await open(`run-${n++}`);
    run.start(job({ plan: 'another' }), bytes);
    await until(() => run.under()?.state === 'done');
    const record = keeper.find('records', demo.id)!;
    expect(record.prints.at(-1)!.conditions.note).toMatch(/plan was changed/);
    run.start(job({ trial: 'nobody' }), bytes);
    await until(() => run.under()?.state === 'failed');
    expect(run.under()?.why).toMatch(/no longer here/);
  });

  it('says why when the machine has stopped by itself', async () => {
    const { run } = await open(`run-${n++}`);
    run.start(job(), bytes);
    await until(() => (run.under()?.place ?? 0) > 60);
    bench.machine.receive('M112\n');
    await until(() => run.under()?.state === 'failed');
    expect(run.under()?.why).toMatch(/has stopped/);
  });
});
