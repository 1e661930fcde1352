import { seeded, type Random } from '#core/base';
import { heron, marshPetg } from '#core/demo';
import { drawTraits, PracticeFirmware } from '#core/lab';
import { framed, Sender } from '#core/wire';

/** How a session over a bad wire ended: what the machine did, what it was to do, and how the sender stands. */
export interface Session {
  did: string[];
  was: string[];
  state: string;
  why?: string;
  seconds: number;
}

const traits = drawTraits({ printer: heron, filament: marshPetg }, 1).printer;
const STEP = 0.05;

/** A wire that loses, doubles, damages and delays lines, by a share of them. */
class Wire {
  private readonly under: { at: number; text: string }[] = [];
  constructor(
    private readonly random: Random,
    private readonly bad: number,
  ) {}

  put(text: string, time: number): void {
    const { random, bad } = this;
    if (random() < bad) return;
    const times = random() < bad ? 2 : 1;
    for (let k = 0; k < times; k++) {
      let sent = text;
      if (random() < bad) {
        // One byte is damaged: the checksum finds each such line.
        const at = Math.floor(random() * sent.length);
        sent = sent.slice(0, at) + String.fromCharCode(33 + Math.floor(random() * 90)) + sent.slice(at + 1);
      }
      this.under.push({ at: time + (random() < bad ? 2 * random() : 0.01), text: sent });
    }
  }

  arrive(time: number): string[] {
    const here = this.under.filter((u) => u.at <= time).sort((a, b) => a.at - b.at);
    for (const u of here) this.under.splice(this.under.indexOf(u), 1);
    return here.map((u) => u.text);
  }

  cut(): void {
    this.under.length = 0;
  }
}

/** Plays one print over a bad wire, with disconnections, reloads, pauses and, rarely, a machine that is switched off. */
export function session(seed: number, { bad = 0.06, cuts = true, offs = false } = {}): Session {
  const random = seeded(seed);
  const n = 5 + Math.floor(random() * 40);
  const lines = Array.from(
    { length: n },
    (_, i) => `G1 X${(i * 1.7).toFixed(1)} Y${(40 * random()).toFixed(2)} F12000`,
  );
  const manner = { window: 1 + Math.floor(random() * 8), stall: 1.5 };
  let sender = new Sender(lines, manner);
  const machine = new PracticeFirmware(heron, traits);
  // What it counted of a print before this one.
  const before = Math.floor(random() * 3) * Math.floor(1000 * random());
  if (before > 0) machine.receive(framed(before, `M110 N${before}`) + '\n');
  const [out, back] = [new Wire(random, bad), new Wire(random, bad)];
  let time = 0;
  let connected = true;
  let whole: string[] = [];
  const write = (frames: readonly string[]) => frames.forEach((f) => out.put(f + '\n', time));
  machine.hear();
  write(sender.connect(time));
  for (; time < 900; time += STEP) {
    if (sender.sending.state === 'done' || sender.sending.state === 'failed') break;
    if (cuts && random() < 0.002) {
      connected = !connected;
      out.cut();
      back.cut();
      // A page that was reloaded has what was kept of the print, and nothing else.
      if (connected) {
        if (random() < 0.5) sender = new Sender(lines, manner, sender.reached);
        write(sender.connect(time));
      }
    }
    if (offs && random() < 0.001) machine.restart();
    if (connected && random() < 0.003) write(sender.pause([`G1 Z${(5 + random()).toFixed(3)} F600`]));
    else if (connected && sender.sending.state === 'paused' && random() < 0.1)
      write(sender.resume([`G1 Z${(1 + random()).toFixed(3)} F600`], time));
    for (const text of out.arrive(time)) if (connected) machine.receive(text);
    machine.pass(STEP);
    for (const line of machine.hear()) if (connected) back.put(line, time);
    for (const line of back.arrive(time)) if (connected) write(sender.heard(line, time));
    if (connected) write(sender.tick(time));
    whole = withInserted(lines, sender);
  }
  const { sending } = sender;
  return {
    did: machine.executed,
    was: whole,
    state: sending.state,
    ...(sending.state === 'failed' && { why: sending.why }),
    seconds: time,
  };
}

/** The lines of a print with what was put in between. */
function withInserted(lines: readonly string[], sender: Sender): string[] {
  const all = [...Array.from({ length: sender.lead }, () => 'M105'), ...lines];
  for (const { at, lines: more } of sender.reached.inserted) all.splice(at, 0, ...more);
  return all;
}
