import { TestBed } from '@angular/core/testing';
import { Subject } from 'rxjs';
import { demoData, demoPair } from '#core/demo';
import { ownTraits, PracticeFirmware } from '#core/lab';
import { commandsOf } from '#core/wire';
import { FakePort } from '../testing/fake-port';
import type { Device } from '../work/device';
import { SerialDevice, type Port } from '../work/serial-device';
import { Keeper } from './keeper';
import { PrintRun } from './print-run';
import { printedPlan, WIRES, type Job } from './run-job';

const { context } = demoPair('heron-marsh-petg')!;
const traits = ownTraits(context, '2026-11-28').printer;
const demo = demoData().records.find((r) => r.id === 'demo-heron-temperature')!;
const job = (over: Partial<Job> = {}): Job => ({
  via: { kind: 'serial', baud: 250_000 },
  trial: demo.id,
  index: 0,
  byPrint: false,
  title: 'Temperature tower',
  plan: printedPlan(demo),
  context,
  fast: false,
  today: '2026-11-28',
  mass: 2,
  layers: [{ z: 0.2, time: 5 }],
  wanted: [],
  bands: [],
  ...over,
});
const file = ['G28', 'M83', 'M109 S200', 'G1 X20 Y20 Z0.2 F6000'];
for (let i = 0; i < 260; i++)
  file.push(`G1 X${20 + (i % 90)} Y${20 + (i % 50)} Z${(0.2 + 0.02 * i).toFixed(2)} E0.1 F12000`);
file.push('M104 S0');
const bytes = new TextEncoder().encode(file.join('\n'));
const commands = commandsOf(file.join('\n'));

const until = async (what: () => boolean, most = 15_000) => {
  const end = performance.now() + most;
  while (!what() && performance.now() < end) await new Promise((r) => setTimeout(r, 10));
  expect(what()).toBe(true);
};
const printed = (lines: readonly string[]) => lines.filter((l) => l !== 'M105');
/** A machine that does not call itself a practice printer. */
const real = (line: string) => line.replace(' (practice)', ' 2.1');

let n = 0;
describe('a print over a wire of its own', () => {
  let port: FakePort;
  let sockets: (() => Device)[];
  const open = async (fresh = true, name = `wires-${fresh ? ++n : n}`) => {
    TestBed.resetTestingModule();
    const wires = {
      network: () => sockets.shift()!(),
      serial: (p: Port, baud: number) => new SerialDevice(p, baud),
      ports: { requestPort: () => Promise.resolve<Port>(port), getPorts: () => Promise.resolve<Port[]>([port]) },
      there: () => Promise.resolve(undefined),
    };
    TestBed.configureTestingModule({ providers: [{ provide: WIRES, useValue: wires }] });
    const keeper = TestBed.inject(Keeper);
    await keeper.open(name);
    if (fresh) await keeper.addAll(demoData());
    return { keeper, run: TestBed.inject(PrintRun) };
  };
  beforeEach(() => {
    port = new FakePort(new PracticeFirmware(context.printer, traits), real);
    sockets = [];
  });

  it('goes to a real machine at a cable, once and in order, and is noted without photographs', async () => {
    const { keeper, run } = await open();
    const before = keeper.find('records', demo.id)!.prints.length;
    run.start(job(), bytes, port);
    await until(() => run.under()?.state === 'done');
    expect(port.opened).toMatchObject([{ baudRate: 250_000 }]);
    expect(printed(port.machine.executed)).toEqual(commands);
    const record = keeper.find('records', demo.id)!;
    expect(record.prints).toHaveLength(before + 1);
    const print = record.prints.at(-1)!;
    // It is no practice print, and says on what firmware it was made.
    expect(print.practice).toBeUndefined();
    expect(print.conditions.firmware).toBe('Marlin 2.1');
    expect(print.took).toMatchObject({ mass: 2 });
  });

  it('asks before the first move where the machine is another than the shelf’s', async () => {
    const { run } = await open();
    const other = { ...context.printer, maximum: { ...context.printer.maximum, speed: 120 }, height: 150 };
    port = new FakePort(new PracticeFirmware(other, traits), real);
    run.start(job(), bytes, port);
    await until(() => run.under()?.state === 'asking');
    expect(run.under()!.differences).toHaveLength(2);
    expect(run.under()!.differences[0]).toMatch(/highest speed is 120 mm\/s/);
    await new Promise((r) => setTimeout(r, 200));
    expect(port.machine.executed).toEqual([]);
    expect(run.active()).toBe(true);
    run.accept();
    await until(() => run.under()?.state === 'done');
    expect(printed(port.machine.executed)).toEqual(commands);
  });

  it('asks a machine again that was starting when it was asked, as many do when a port is opened', async () => {
    const { run } = await open();
    const other = { ...context.printer, tools: 2 };
    port = new FakePort(new PracticeFirmware(other, traits), real);
    port.starts = 300;
    run.start(job(), bytes, port);
    await until(() => run.under()?.state === 'asking');
    expect(run.under()!.differences[0]).toContain('2 tools');
  });

  it('sends nothing at all where it is stopped before the wire is there', async () => {
    const { run } = await open();
    let opens: (() => void) | undefined;
    const { machine } = port;
    const said = new Subject<readonly string[]>();
    const sent: string[] = [];
    sockets = [
      () => ({
        kind: 'network',
        lines$: said,
        connect: () => new Promise<void>((ready) => (opens = ready)),
        write: (text) => {
          sent.push(text);
          machine.receive(text);
        },
        close: () => undefined,
      }),
    ];
    run.start(job({ via: { kind: 'network' } }), bytes);
    await until(() => opens !== undefined);
    run.stop();
    opens!();
    await new Promise((r) => setTimeout(r, 100));
    machine.pass(2);
    said.next(machine.hear());
    await new Promise((r) => setTimeout(r, 100));
    expect(run.under()?.state).toBe('stopped');
    expect(sent).toEqual(['\nM112\n']);
    expect(machine.executed).toEqual([]);
  });

  it('prints once where it is stopped before its lines are taken apart, and started again at once', async () => {
    const { run } = await open();
    run.start(job(), bytes, port);
    run.stop();
    expect(run.start(job(), bytes, port)).toBe(true);
    await until(() => run.under()?.state === 'done');
    expect(port.opened).toHaveLength(1);
    expect(printed(port.machine.executed)).toEqual(commands);
  });

  it('sends nothing where the person says that it is the wrong one', async () => {
    const { run } = await open();
    port = new FakePort(new PracticeFirmware({ ...context.printer, tools: 2 }, traits), real);
    run.start(job(), bytes, port);
    await until(() => run.under()?.state === 'asking');
    run.refuse();
    expect(run.under()).toBeUndefined();
    expect(port.machine.executed).toEqual([]);
  });

  it('waits where the cable is pulled out, and goes on when it is in again, with nothing twice', async () => {
    const { run } = await open();
    run.start(job(), bytes, port);
    await until(() => (run.under()?.place ?? 0) > 40);
    port.pull();
    await until(() => run.under()?.state === 'apart');
    expect(run.active()).toBe(true);
    expect(run.under()!.why).toContain('cable');
    // Still out: it says so, and waits on.
    await run.connectAgain();
    await until(() => run.under()?.state === 'apart');
    port.plug();
    await run.connectAgain();
    await until(() => run.under()?.state === 'done');
    expect(printed(port.machine.executed)).toEqual(commands);
  }, 30_000);

  it('does not say that heaters are off where the machine cannot be told', async () => {
    const { run } = await open();
    run.start(job(), bytes, port);
    await until(() => (run.under()?.place ?? 0) > 40);
    port.pull();
    await until(() => run.under()?.state === 'apart');
    run.stop();
    expect(run.under()).toMatchObject({ state: 'failed' });
    expect(run.under()!.why).toMatch(/switch it off by hand/);
    expect(port.machine.standing.halted).toBe(false);
  });

  it('stops at once, and what was printed so far can be noted', async () => {
    const { keeper, run } = await open();
    run.start(job(), bytes, port);
    await until(() => (run.under()?.place ?? 0) > 40);
    run.stop();
    await until(() => port.machine.standing.halted);
    expect(port.machine.standing.target).toBe(0);
    run.finish();
    expect(run.under()?.state).toBe('done');
    const { took } = keeper.find('records', demo.id)!.prints.at(-1)!;
    expect(took!.mass).toBeGreaterThan(0);
    expect(took!.mass).toBeLessThan(2);
  });

  it('goes on over the same port after the page is loaded anew', async () => {
    const first = await open();
    first.run.start(job(), bytes, port);
    await until(() => (first.run.under()?.place ?? 0) > 60);
    port.pull();
    await until(() => first.run.under()?.state === 'apart');
    await first.keeper.settled();
    port.plug();
    const second = await open(false);
    await second.run.recall();
    await until(() => second.run.under()?.state === 'done', 20_000);
    expect(printed(port.machine.executed)).toEqual(commands);
  }, 40_000);

  it('tries a server again by itself', async () => {
    const { run } = await open();
    const { machine } = port;
    const said: Subject<readonly string[]>[] = [];
    const socket = (): Device => {
      const lines$ = new Subject<readonly string[]>();
      said.push(lines$);
      const timer = setInterval(() => {
        machine.pass(2);
        const lines = machine.hear().map(real);
        if (lines.length > 0) lines$.next(lines);
      }, 5);
      lines$.subscribe({ error: () => clearInterval(timer), complete: () => clearInterval(timer) });
      return {
        kind: 'network',
        lines$,
        connect: () => Promise.resolve(),
        write: (text) => machine.receive(text),
        close: () => lines$.complete(),
      };
    };
    const gone = (): Device => ({ ...socket(), connect: () => Promise.reject(new Error('not there')) });
    sockets = [socket, gone, socket];
    run.start(job({ via: { kind: 'network' } }), bytes);
    await until(() => (run.under()?.place ?? 0) > 40);
    said[0]!.error(new Error('the connection broke'));
    expect(run.under()?.state).toBe('apart');
    await until(() => run.under()?.state === 'done', 20_000);
    expect(printed(machine.executed)).toEqual(commands);
  }, 30_000);
});
