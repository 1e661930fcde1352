import { describe, expect, it } from 'vitest';
import { seeded } from '#core/base';
import { heron, marshPetg, osprey, plover } from '#core/demo';
import { limitsFromReport } from '#core/context';
import { drawTraits, PracticeFirmware } from '#core/lab';
import { session } from '../testing/wire-sessions';
import { checksumOf, commandsOf, firstCommands, framed, heardIn, Sender, unframed } from '.';

const traits = drawTraits({ printer: heron, filament: marshPetg }, 1).printer;

describe('a line on the wire', () => {
  it('has the checksum that firmware reckons: the exclusive or of its bytes', () => {
    // Worked by hand: N ^ 3 ^ blank ^ T ^ 0 = 0x4e ^ 0x33 ^ 0x20 ^ 0x54 ^ 0x30 = 0x39.
    expect(checksumOf('N3 T0')).toBe(0x39);
    expect(framed(3, 'T0')).toBe('N3 T0*57');
    expect(unframed('N3 T0*57')).toEqual({ kind: 'numbered', number: 3, text: 'T0' });
  });

  it('is found damaged whichever single byte of it is another', () => {
    const random = seeded(4);
    for (let k = 0; k < 400; k++) {
      const line = framed(Math.floor(random() * 1e6), `G1 X${(300 * random()).toFixed(3)} E${random().toFixed(5)}`);
      const at = Math.floor(random() * line.length);
      const other = String.fromCharCode(33 + Math.floor(random() * 90));
      if (other === line[at]) continue;
      const taken = unframed(line.slice(0, at) + other + line.slice(at + 1));
      // What no longer looks numbered is at least not taken for this command.
      if (taken.kind === 'numbered') expect.unreachable(`${line} at ${at} with ${other}`);
      else if (taken.kind === 'plain') expect(taken.text).not.toMatch(/^G1/);
    }
  });

  it('is a command without comments and empty lines', () => {
    // Cut after its nth command, a file has so many, and stands as it stood.
    const file = '; top\nG28 ; home\n\n  M83 (relative)\n;\nG1 X1';
    expect([0, 1, 2, 3, 9].map((n) => firstCommands(file, n))).toEqual([
      '',
      '; top\nG28 ; home\n',
      '; top\nG28 ; home\n\n  M83 (relative)\n',
      file,
      file,
    ]);
    expect(commandsOf('; top\nG28 ; home\n\n  M83 (relative)\n;\nG1 X1')).toEqual(['G28', 'M83', 'G1 X1']);
  });

  it('of the machine is understood, whatever stands in it', () => {
    expect(heardIn('ok T:210.50 /215.00 B:60.1 /60.0 @:127')).toEqual({
      ...{ kind: 'temperature', nozzle: 210.5, target: 215, bed: 60.1, bedTarget: 60, acknowledges: true },
    });
    expect(heardIn(' T0:20.1 /0.0 B:21 /0 @:0')).toMatchObject({ kind: 'temperature', acknowledges: false });
    expect(heardIn('Resend: 12')).toEqual({ kind: 'resend', number: 12 });
    expect(heardIn('echo:busy: processing')).toEqual({ kind: 'busy' });
    expect(heardIn('X:1.00 Y:2.50 Z:-0.10 E:0.00 Count X:80')).toEqual({ kind: 'position', x: 1, y: 2.5, z: -0.1 });
    expect(heardIn('!! Emergency stop')).toEqual({ kind: 'halted', why: 'Emergency stop' });
    const random = seeded(8);
    for (let k = 0; k < 2000; k++) {
      const noise = String.fromCharCode(...Array.from({ length: 30 }, () => Math.floor(256 * random())));
      expect(() => heardIn(noise)).not.toThrow();
    }
  });
});

/** Without the questions that a print begins with, which do nothing. */
const printing = ({ did, was }: { did: string[]; was: string[] }) =>
  [did, was].map((lines) => lines.filter((l) => l !== 'M105'));

describe('sending', () => {
  it('over a good wire: each line once, in order, and certain of the end', () => {
    for (let seed = 1; seed < 40; seed++) {
      const { did, was, state } = session(seed, { bad: 0, cuts: false });
      expect(state).toBe('done');
      expect(did).toEqual(was);
    }
  });

  it('over a bad wire, with cuts, reloads and pauses: the same, or it stops with the reason', () => {
    let done = 0;
    const sessions = 1000;
    for (let seed = 1; seed <= sessions; seed++) {
      const { did, was, state, why } = session(seed);
      expect(did, `seed ${seed} ${state} ${why}`).toEqual(was.slice(0, did.length));
      if (state === 'done') {
        expect(did, `seed ${seed}`).toHaveLength(was.length);
        done++;
      }
    }
    expect(done / sessions).toBeGreaterThan(0.97);
  });

  it('never goes on with a machine that was switched off and on', () => {
    for (let seed = 1; seed <= 200; seed++) {
      const [did, was] = printing(session(seed, { offs: true }));
      expect(did, `seed ${seed}`).toEqual(was!.slice(0, did!.length));
    }
  });

  it('waits for a silent machine, and gives up in the end', () => {
    const sender = new Sender(['G28', 'G1 X5'], { window: 4, stall: 5 });
    sender.connect(0);
    let t = 0;
    for (; t < 500 && sender.sending.state !== 'failed'; t++) sender.tick(t);
    expect(t).toBeGreaterThan(60);
    expect(sender.sending).toEqual({ state: 'failed', why: 'the machine does not answer' });
  });

  it('keeps no more under way than its window', () => {
    const commands = Array.from({ length: 50 }, () => 'G4 P1');
    const sender = new Sender(commands, { window: 4, stall: 5 });
    sender.connect(0);
    let under = 0;
    const lines = (frames: string[]) => frames.filter((f) => !f.includes('N2000000000')).length;
    for (let k = 0; k < 3; k++) under += lines(sender.heard('Resend: 1', 0));
    // It ends the answer to a line that is wanted again, and acknowledges nothing.
    under += lines(sender.heard('ok', 0));
    let most = 0;
    for (let k = 0; k < 40; k++) {
      under += lines(sender.heard('ok', k)) - 1;
      most = Math.max(most, under);
    }
    expect(most).toBe(4);
  });
});

describe('the practice printer on the wire', () => {
  const machine = (printer = heron) => {
    const m = new PracticeFirmware(printer, traits);
    m.hear();
    return m;
  };
  const say = (m: PracticeFirmware, ...lines: string[]) => {
    for (const l of lines) m.receive(l + '\n');
    return m.hear();
  };

  it('asks for a line again whose checksum or number is wrong, and takes it no second time', () => {
    const m = machine();
    say(m, framed(9, 'M110 N9'));
    expect(say(m, framed(10, 'G4 P1'))).toEqual(['ok']);
    expect(say(m, 'N11 G4 P2*1')).toEqual(['Error:checksum mismatch, Last Line: 10', 'Resend: 11', 'ok']);
    expect(say(m, framed(10, 'G4 P1'))).toContain('Resend: 11');
    expect(say(m, framed(12, 'G4 P1'))).toContain('Resend: 11');
    expect(say(m, 'N11 G4 P2')).toContain('Resend: 11');
    expect(say(m, 'G4 P2*7')).toContain('Resend: 11');
    expect(m.executed).toEqual(['G4 P1']);
  });

  it('holds its answer back while it heats, says that it is busy and how hot it is', () => {
    const m = machine();
    expect(say(m, framed(0, 'M110 N0'), framed(1, 'M109 S220'), framed(2, 'G28'))).toEqual(['ok']);
    const heard: string[] = [];
    let seconds = 0;
    for (; seconds < 400 && !heard.includes('ok'); seconds++) {
      m.pass(1);
      heard.push(...m.hear());
    }
    expect(seconds).toBeGreaterThan(60);
    expect(heard.filter((l) => /busy/.test(l)).length).toBeGreaterThan(20);
    expect(heard.filter((l) => l.startsWith('T:')).length).toBeGreaterThan(20);
    expect(m.standing.nozzle).toBeGreaterThan(217);
  });

  it('stops at once, whatever waits before it, with heaters off, until it is switched on again', () => {
    for (const printer of [heron, plover, osprey]) {
      const m = machine(printer);
      say(m, framed(0, 'M110 N0'), framed(1, 'M109 S220'));
      for (let k = 2; k < 40; k++) m.receive(framed(k, `G1 X${k} F600`) + '\n');
      m.pass(5);
      m.hear();
      expect(say(m, 'M112').some((l) => heardIn(l).kind === 'halted')).toBe(true);
      const executed = m.executed.length;
      say(m, framed(40, 'G1 X5'), 'M104 S200');
      m.pass(200);
      expect(m.executed).toHaveLength(executed);
      expect(m.standing).toMatchObject({ halted: true, target: 0, bedTarget: 0 });
      expect(m.standing.nozzle).toBeLessThan(120);
      m.restart();
      expect(m.hear()).toContain('start');
    }
  });

  it('takes no command without a number while it counts, but answers questions', () => {
    const m = machine();
    say(m, framed(0, 'M110 N0'), framed(1, 'G4 P1'));
    say(m, 'G1 X50 F6000');
    m.pass(5);
    m.hear();
    expect(m.standing.x).toBe(0);
    expect(say(m, 'M105')[0]).toMatch(/^ok T:/);
    expect(say(m, 'M115')[0]).toContain('Heron');
  });

  it('tells its limits as its firmware does, so that they can be compared with the shelf', () => {
    for (const printer of [heron, osprey]) {
      const report = say(machine(printer), 'M503').join('\n');
      const other = { ...printer, maximum: { ...printer.maximum, speed: 11, acceleration: 51 } };
      const found = limitsFromReport(report, other);
      expect(found.ok && found.value.printer.maximum).toEqual(printer.maximum);
    }
  });

  it('bears floods, giant lines and noise', () => {
    const m = machine();
    const random = seeded(2);
    m.receive('G1 X' + '9'.repeat(100_000));
    m.receive('\n');
    for (let k = 0; k < 300; k++) {
      m.receive(String.fromCharCode(...Array.from({ length: 200 }, () => Math.floor(256 * random()))));
      m.pass(0.1);
    }
    m.receive('\n'.repeat(5));
    m.pass(5);
    m.hear();
    say(m, framed(0, 'M110 N0'));
    expect(say(m, framed(1, 'G4 P1')).at(-1)).toBe('ok');
  });
});
