import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { arithmetic, listed, show } from '#core/base';
import { bedEdges, type Beyond, type Printer } from '#core/context';
import { findingWords, type Finding } from '#core/inspect';
import { Keeper } from '../data/keeper';

/** The answer that settles a finding for the printer, in words. */
function answerWords({ asks }: Finding): string | undefined {
  if (asks?.kind === 'daily') return 'It does so daily here';
  if (asks?.kind !== 'beyond') return undefined;
  const sides = Object.entries(asks.beyond).filter(([, mm]) => mm > 0);
  return `The head gets there: ${listed(sides.map(([side, mm]) => `${show(Math.ceil(mm * 10) / 10)} mm beyond the ${bedEdges[side as keyof Beyond]}`))}`;
}

/** The reach that takes in both, in tenths of a millimetre. */
const widened = (before: Beyond | undefined, more: Beyond): Beyond => ({
  left: Math.max(before?.left ?? 0, Math.ceil(more.left * 10) / 10),
  right: Math.max(before?.right ?? 0, Math.ceil(more.right * 10) / 10),
  front: Math.max(before?.front ?? 0, Math.ceil(more.front * 10) / 10),
  back: Math.max(before?.back ?? 0, Math.ceil(more.back * 10) / 10),
});

/** What is to be said of a file: what forbids it first; what the printer does daily is asked once and kept with it. */
@Component({
  selector: 'st-file-findings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <ul>
      @for (f of rows(); track $index) {
        <li [class.stop]="f.severity === 'stop'" [class.warn]="f.severity === 'warn'">
          {{ f.message }}
          <span class="soft small">{{ f.where }}</span>
          @if (f.asks?.kind === 'draws') {
            <span class="draws"
              >it draws back
              <input
                class="figures"
                size="4"
                inputmode="decimal"
                aria-label="mm that the firmware draws back"
                #length
              />
              mm <button type="button" class="act small" (click)="draws(length.value)">Keep</button></span
            >
            @if (unkept(); as u) {
              <span class="wrong small" role="alert">{{ u }}</span>
            }
          }
          @if (f.answer) {
            <button type="button" class="act small" (click)="answer(f)">{{ f.answer }}</button>
          }
        </li>
      } @empty {
        <li>Nothing speaks against printing it on this pair.</li>
      }
    </ul>
  `,
  styles: `
    ul {
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      padding: 5px 0 5px 12px;
      border-left: 3px solid var(--line);
      margin-bottom: 5px;
    }
    li.stop {
      border-color: var(--fault);
    }
    li.warn {
      border-color: var(--madder);
    }
    .draws {
      white-space: nowrap;
    }
    .draws input {
      width: 54px;
      font: inherit;
      padding: 2px 6px;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--sheet);
      color: var(--ink);
    }
    li button {
      margin-left: 10px;
    }
  `,
})
export class FileFindings {
  readonly findings = input.required<readonly Finding[]>();
  readonly printer = input.required<Printer>();
  private readonly keeper = inject(Keeper);

  protected readonly rows = computed(() =>
    this.findings()
      .map((f) => ({ ...f, message: findingWords(f) }))
      .filter((f, i, all) => all.findIndex((o) => o.message === f.message) === i)
      .sort(
        (a, b) =>
          'swn'.indexOf(a.severity[1] === 't' ? 's' : a.severity[0]!) -
          'swn'.indexOf(b.severity[1] === 't' ? 's' : b.severity[0]!),
      )
      .slice(0, 14)
      .map((f) => ({
        ...f,
        answer: answerWords(f),
        where: [f.line > 0 ? `line ${f.line}` : '', f.z > 0 ? `${show(f.z, 2)} mm` : ''].filter(Boolean).join(', '),
      })),
  );

  /** Keeps with the printer what the person says of a finding; the file is checked anew by it. */
  protected answer({ code, asks }: Finding): void {
    const printer = this.kept();
    if (!asks) return;
    if (asks.kind === 'daily')
      return void this.keeper.save('printers', { ...printer, daily: [...new Set([...(printer.daily ?? []), code])] });
    if (asks.kind === 'beyond')
      this.keeper.save('printers', { ...printer, beyond: widened(printer.beyond, asks.beyond) });
  }

  /** The printer as it is kept now: two answers in a row must not take one another back. */
  private kept(): Printer {
    const { id } = this.printer();
    return this.keeper.find('printers', id) ?? this.printer();
  }

  protected readonly unkept = signal('');

  /** Keeps with the printer how far its firmware draws back. */
  protected draws(text: string): void {
    const printer = this.kept();
    const parsed = arithmetic(text, 'mm', 'length');
    if (!parsed.ok) return this.unkept.set(parsed.faults[0]!.wrong);
    if (!(parsed.value > 0 && parsed.value <= 15)) return this.unkept.set('give 0.1 to 15 mm');
    this.unkept.set('');
    const speed = Math.min(35, printer.extruder.maximumSpeed);
    this.keeper.save('printers', { ...printer, drawsBack: { length: parsed.value, speed } });
  }
}
