import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Select } from 'primeng/select';
import { dayOf } from '#core/base';
import { shotsOf } from '#core/careful';
import { mishapsOn } from '#core/lab';
import { Keeper } from '../data/keeper';
import { PrintRun } from '../data/print-run';
import { printedPlan, WIRES } from '../data/run-job';
import { bauds, type Port } from '../work/serial-device';
import { bandsOf } from './run-shots';
import { TrialDesk } from './trial-desk';

/** One of what can go wrong, which is told once a value is settled. */
const UNTOLD = 'untold';

/** Where a checked file is printed: on the practice printer, on one that the server leads to, on one at a cable. */
@Component({
  selector: 'st-print-where',
  imports: [FormsModule, Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (places().length > 1) {
      <p-select
        [options]="places()"
        optionLabel="label"
        optionValue="kind"
        [ngModel]="place()"
        (ngModelChange)="run.where.set($event)"
        ariaLabel="Where to print"
      />
    }
    @if (place() === 'practice') {
      <label class="small">
        goes wrong
        <p-select
          size="small"
          [options]="wrongs()"
          optionLabel="label"
          optionValue="id"
          [ngModel]="wrong()"
          (ngModelChange)="wrong.set($event)"
          ariaLabel="What goes wrong"
        />
      </label>
    }
    @if (place() === 'serial') {
      <label class="small">
        bits a second
        <p-select [options]="bauds" [ngModel]="baud()" (ngModelChange)="baud.set($event)" ariaLabel="Bits a second" />
      </label>
    }
    <button
      type="button"
      class="act"
      [disabled]="run.active() || !keeper.writes() || !desk.current()"
      (click)="print()"
      [title]="place() === 'practice' ? practising : ''"
    >
      <i class="pi pi-play" aria-hidden="true"></i>{{ words() }}
    </button>
    @if (run.active()) {
      <p class="small soft">Something else prints now: {{ run.under()?.title }}.</p>
    }
    @if (why(); as w) {
      <p class="small wrong" role="alert">{{ w }}</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 6px;
    }
    label {
      display: flex;
      gap: 8px;
      align-items: center;
    }
  `,
})
export class PrintWhere {
  protected readonly run = inject(PrintRun);
  protected readonly keeper = inject(Keeper);
  protected readonly desk = inject(TrialDesk);
  private readonly wires = inject(WIRES);
  protected readonly bauds = [...bauds];
  protected readonly baud = signal<number>(bauds[0]);
  /** What is asked to go wrong, to learn how it looks. */
  protected readonly wrong = signal('');
  private readonly possible = computed(() => {
    const context = this.desk.record()?.trial.context;
    return context ? mishapsOn(context) : [];
  });
  protected readonly wrongs = computed(() => [
    { id: '', label: 'nothing' },
    { id: UNTOLD, label: 'something, untold' },
    ...this.possible().map(({ id, label }) => ({ id, label })),
  ]);
  protected readonly why = signal('');
  private readonly network = signal<string | undefined>(undefined);
  protected readonly practising =
    'A simulated printer with traits of its own that you do not know: it prints the file, and you read what comes of it';

  protected readonly places = computed(() => [
    { kind: 'practice' as const, label: 'practice printer' },
    ...(this.network() === undefined ? [] : [{ kind: 'network' as const, label: `${this.network()}, network` }]),
    ...(this.wires.ports ? [{ kind: 'serial' as const, label: 'printer at a cable' }] : []),
  ]);
  protected readonly place = computed(() => {
    const kind = this.run.where();
    return this.places().some((p) => p.kind === kind) ? kind : 'practice';
  });
  protected readonly words = computed(
    () =>
      ({
        practice: 'Print on the practice printer',
        network: `Print on ${this.network()}`,
        serial: 'Print over the cable',
      })[this.place()],
  );

  constructor() {
    void this.wires.there().then((name) => this.network.set(name));
  }

  private asked(): { mishaps: string[]; untold?: boolean } {
    const [id, ids] = [this.wrong(), this.possible().map((m) => m.id)];
    if (id !== UNTOLD) return { mishaps: ids.filter((i) => i === id) };
    return { mishaps: [ids[Math.floor(Math.random() * ids.length)]!], untold: true };
  }

  /** Prints the checked file there; nothing goes anywhere without this press. */
  protected async print(): Promise<void> {
    const [made, trial, plan] = [this.desk.made(), this.desk.record()?.trial, this.desk.plan()];
    if (!made || !trial || !plan || !this.desk.current()) return;
    this.why.set('');
    const kind = this.place();
    let port: Port | undefined;
    if (kind === 'serial') {
      port = await this.wires.ports?.requestPort().catch(() => undefined);
      if (!port) {
        this.why.set('No port was chosen. Plug the printer in, switch it on, and choose its port.');
        return;
      }
    }
    this.run.start(
      {
        via: kind === 'serial' ? { kind, baud: this.baud() } : { kind },
        trial: this.desk.id(),
        index: this.desk.printIndex(),
        byPrint: this.desk.byPrint() !== undefined,
        title: trial.title,
        plan: printedPlan({ trial }),
        context: trial.context,
        fast: true,
        today: dayOf(),
        mass: made.report.filament.mass,
        planned: made.report.time + made.report.heating,
        ...(kind === 'practice' && this.asked()),
        layers: made.inspection.layers.map(({ z, time }) => ({ z, time })),
        wanted: shotsOf(plan),
        bands: bandsOf(plan),
      },
      made.bytes,
      port,
    );
  }
}
