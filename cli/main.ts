import { Command, CommanderError } from 'commander';
import { PNG } from 'pngjs';
import * as z from 'zod';
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import {
  amountsAt,
  asPrint,
  compareFiles,
  learn,
  makeOf,
  ownTrial,
  calculate,
  calculatorOf,
  calculators,
  checkedPair,
  checkedTrial,
  demoPair,
  demoPairs,
  dialects,
  drawTraits,
  everyFactor,
  faultsSchema,
  coloursOf,
  fault,
  freshTrial,
  findingWords,
  inspect,
  labelMap,
  make,
  parse,
  photograph,
  printFile,
  readCarefully,
  measuredOn,
  readingSchema,
  rules,
  sentence,
  settleWhole,
  specimenOf,
  specimens,
  kindOf,
  kinds,
  kindsOf,
  traitsSchema,
  trialOfKind,
  truthOf,
  carriedTrial,
  type Context,
  type Factor,
  type Inspection,
  type Outcome,
  views,
  type Planned,
  type Settings,
  valueWords,
  boundsOfMesh,
  factorOf,
  likelyUnit,
  longestOf,
  lookOver,
  asFiled,
  isOfParts,
  MOST_PARTS,
  partsOn,
  roomForParts,
  listed,
  withBeside,
  partTrial,
  PartPiece,
  placePart,
  readAndHold,
  readPart,
  rounded,
  units,
  type Unit,
} from '#core';
import { makeFolder, need, parseJson, readBytes, readJson, Refused, run, writeWhole } from './answer';

const program = new Command('cli')
  .description('Steady Tune on the command line. Results are JSON on standard output.')
  .exitOverride()
  .configureHelp({ showGlobalOptions: true })
  .option('--json', 'one line instead of pretty print');

const print = (value: unknown): void => {
  process.stdout.write(JSON.stringify(value, null, program.opts()['json'] ? 0 : 2) + '\n');
};

/** A verb that prints what it returns; `--json` may stand behind it too. */
const verb = (name: string, about: string) =>
  program
    .command(name)
    .description(about)
    .option('--json', 'one line instead of pretty print')
    .hook('preAction', (_, c) => {
      if (c.opts()['json']) program.setOptionValue('json', true);
    });

const pairOf = (name: string): { context: Context; baseline: Settings } => {
  const demo = demoPair(name);
  if (demo) return demo;
  if (!name.endsWith('.json')) {
    throw new Refused([
      fault(
        'cli.pair',
        '--pair',
        `there is no demo pair ${name}`,
        `give ${demoPairs.map((p) => p.id).join(', ')} or a pair file`,
      ),
    ]);
  }
  const pair = need(checkedPair(readJson(name)));
  return { context: { printer: pair.printer, filament: pair.filament }, baseline: pair.baseline };
};

const trialFrom = (path: string): Planned => need(checkedTrial(readJson(path)));

/** The specimens that can carry a factor in some layout. */
const carriers = (f: Factor): string[] =>
  specimens
    .filter((s) =>
      f.layouts.some(
        (along) => along === 'print' || s.accepts([{ factor: f.id, levels: [0], kind: 'step', along }]).length === 0,
      ),
    )
    .map((s) => s.id);

verb('catalogue', 'everything that can be varied, printed and chosen').action(() => {
  const context = demoPairs[0]!.context;
  print({
    factors: everyFactor().map((f) => {
      const { min, max } = f.usual?.(context) ?? f.limits(context);
      return {
        id: f.id,
        label: f.label,
        unit: f.unit,
        usual: { min, max },
        layouts: f.layouts,
        specimens: carriers(f),
      };
    }),
    specimens: specimens.map((s) => ({
      id: s.id,
      label: s.label,
      factors: everyFactor()
        .filter((f) => carriers(f).includes(s.id))
        .map((f) => f.id),
      layouts: [...s.layouts, 'print'],
    })),
    trials: kinds.map((k) => ({ id: k.id, label: k.label, stop: k.stop, specimen: k.specimen, about: k.about })),
    dialects: Object.values(dialects).map((d) => ({ id: d.id, label: d.label })),
    rules: rules.map((r) => ({ id: r.id, label: r.label })),
    calcs: calculators.map((c) => ({ id: c.id, label: c.label, formula: c.formula })),
  });
});

verb('pairs', 'ids and labels of the demo pairs').action(() =>
  print(demoPairs.map((p) => ({ id: p.id, label: p.label }))),
);

verb('template', 'a complete trial file with the default levels for a pair')
  .argument('<id>', 'a trial or a specimen of the catalogue, or a stop of the route')
  .requiredOption('--pair <pair>', 'a demo pair’s id, or a pair file')
  .action((id: string, options: { pair: string }) => {
    const { context, baseline } = pairOf(options.pair);
    const kind = kindOf(id) ?? kindsOf(id)[0];
    if (kind) {
      const lacks = kind.lacks?.(context);
      if (lacks !== undefined)
        throw new Refused([
          fault('cli.template', 'pair', `${kind.label} cannot be made: ${lacks}`, 'name another pair'),
        ]);
      print(trialOfKind(kind.id, context, baseline));
      return;
    }
    if (isOfParts(id))
      throw new Refused([fault('cli.template', 'id', 'a part of your own has no template', 'give its file to place')]);
    if (!specimenOf(id)) {
      throw new Refused([
        fault(
          'cli.template',
          'id',
          `${id} is not in the catalogue`,
          `give ${[...kinds, ...specimens].map((k) => k.id).join(' or ')}`,
        ),
      ]);
    }
    print(freshTrial(id, undefined, context, baseline));
  });

/** The printer and filament that a file is taken to be for, and how that is known. */
interface TakenPair {
  printer: string;
  filament: string;
  from: 'the file' | '--trial' | '--pair' | 'assumed';
}

/** A file as bytes, its trial if it carries one, and the pair it is for: its own, else the one named, else a demo pair. */
function opened(path: string, options: { pair?: string | undefined; trial?: string | undefined }) {
  const bytes = readBytes(path);
  const carried = options.trial === undefined ? carriedTrial(bytes) : undefined;
  const plan =
    options.trial !== undefined
      ? trialFrom(options.trial)
      : carried?.ok
        ? need(checkedTrial(carried.value))
        : undefined;
  const { context, baseline } = plan?.trial ?? pairOf(options.pair ?? demoPairs[0]!.id);
  const said = options.trial !== undefined ? '--trial' : 'the file';
  const pair: TakenPair = {
    printer: context.printer.name,
    filament: context.filament.name,
    from: plan ? said : options.pair !== undefined ? '--pair' : 'assumed',
  };
  return { name: basename(path), bytes, plan, context, baseline, pair };
}

/** A file as bytes, checked against its pair. */
/** An inspection with its findings in words, as it is printed. */
function told(inspection: Inspection, plan?: Planned) {
  const labelOf = (cell: number) => plan?.cells[cell]?.label ?? `cell ${cell + 1}`;
  const findings = inspection.findings.map((f) => ({ ...f, message: findingWords(f, labelOf) }));
  return { ...inspection, findings };
}

function inspected(path: string, pair: string | undefined) {
  const file = opened(path, { pair });
  return { ...file, inspection: run(inspect(file.bytes, file.context)) };
}

const listOf = (text: string): number[] => text.split(',').map((v) => Number(v));

verb('compare', 'two or more G-code files beside one another')
  .argument('<files...>', 'G-code files; the first is the baseline')
  .option('--pair <pair>', 'the printer and filament they are for, where they do not say it themselves')
  .option('--levels <list>', 'what was varied, a value a file, with commas between')
  .action((files: string[], options: { pair?: string; levels?: string }) => {
    if (files.length < 2 || files.length > 12)
      throw new Refused([fault('cli.compare', 'files', `${files.length} files are given`, 'give two to twelve')]);
    const all = files.map((f) => inspected(f, options.pair));
    const compared = compareFiles(all, 0, options.levels === undefined ? undefined : listOf(options.levels));
    print({ ...compared, pairs: all.map(({ name, pair }) => ({ file: name, ...pair })) });
  });

verb('carry', 'a sweep into a G-code file of any origin')
  .argument('<file>', 'G-code file; it is not changed')
  .argument('<sweep>', 'JSON: { factor, levels: [from the lowest band], from?, to? } in mm')
  .requiredOption('-o, --out <file>', 'where the new file goes')
  .option('--pair <pair>', 'the printer and filament it is for, where it does not say so itself')
  .action((file: string, path: string, options: { out: string; pair?: string }) => {
    const sweep = need(
      parse(
        z.strictObject({
          factor: z.string(),
          levels: z.array(z.number()).min(1).max(40),
          from: z.number().min(0).optional(),
          to: z.number().min(0).optional(),
        }),
        readJson(path),
        'sweep',
      ),
    );
    const { name, bytes, inspection, context, baseline, pair } = inspected(file, options.pair);
    const source = { hash: createHash('sha256').update(bytes).digest('hex'), name, length: bytes.length };
    const trial = ownTrial(source, inspection, context, baseline, sweep.factor, sweep.levels);
    if (sweep.from !== undefined) trial.specimen.params['from'] = sweep.from;
    if (sweep.to !== undefined) trial.specimen.params['to'] = sweep.to;
    const made = run(makeOf(trial, bytes));
    writeWhole(options.out, made.file.bytes);
    print({ pair, ...told(made.inspection) });
  });

verb('learn', 'a pair and its baseline from a G-code file, with how sure each value is')
  .argument('<file>', 'G-code file')
  .option('--pair <pair>', 'the printer and filament it is for, where they are known')
  .action((file: string, options: { pair?: string }) => {
    print(run(learn(readBytes(file), options.pair === undefined ? undefined : pairOf(options.pair).context)));
  });

const partOptions = z.strictObject({
  unit: z.enum(Object.keys(units) as [Unit, ...Unit[]]).optional(),
  layer: z.coerce.number().min(0.02).max(2),
});

verb('part', 'looks a part over: its size, its volume, and where its outline does not close')
  .argument('<file>', 'STL, OBJ or 3MF')
  .option('--unit <unit>', `the unit of the file where it says none: ${Object.keys(units).join(', ')}`)
  .option('--layer <mm>', 'height of a layer', '0.2')
  .action((path: string, options: unknown) => {
    const asked = need(parse(partOptions, options, 'options'));
    const file = run(readPart(readBytes(path), basename(path)));
    const unit = asked.unit ?? file.unit ?? likelyUnit(longestOf(file));
    print({
      unit,
      unitIs: asked.unit ? 'given' : file.unit ? 'said by the file' : 'guessed from the size',
      objects: file.objects.map(({ mesh, colour }) => {
        const piece = new PartPiece(mesh, { ...asFiled, unit: units[unit] });
        const { seen, ...looked } = run(lookOver(piece, asked.layer));
        const { min, max } = boundsOfMesh(mesh)!;
        return {
          name: mesh.name,
          triangles: mesh.n,
          colour,
          bounds: [...min, ...max].map((v) => rounded(v * units[unit], 3)),
          size: [piece.width, piece.depth, piece.height].map((v) => rounded(v, 3)),
          ...seen,
          ...looked,
        };
      }),
    });
  });

/** The bytes of a part, held under their SHA-256. */
function held(path: string) {
  const bytes = readBytes(path);
  const file = { hash: createHash('sha256').update(bytes).digest('hex'), name: basename(path), length: bytes.length };
  return { file, part: run(readAndHold(file.hash, () => bytes, file.name)) };
}

/** Holds the parts that a trial names: the files that are given, or those beside the trial with their names. */
function holdFor(trial: string, of: Planned['trial'], given: readonly string[]): void {
  const parts = partsOn(of).map(({ part }) => part);
  roomForParts(parts.length);
  const hold = (path: string): string => {
    const { hash } = held(path).file;
    if (parts.some((part) => part.hash === hash)) return hash;
    throw new Refused([
      fault(
        'cli.part',
        '--part',
        `${basename(path)} is not ${parts.length > 1 ? 'one of the parts' : 'the part'} that the trial names, ${listed(parts.map((part) => part.name))}`,
        `give the file whose SHA-256 begins with ${parts.map((part) => part.hash.slice(0, 12)).join(' or ')}`,
      ),
    ]);
  };
  const known = new Set(given.map(hold));
  for (const part of parts) {
    const beside = join(dirname(trial), part.name);
    if (!known.has(part.hash) && existsSync(beside)) known.add(hold(beside));
  }
}

const placeOptions = z.strictObject({
  pair: z.string(),
  unit: partOptions.shape.unit,
  factor: z.string().optional(),
  along: z.enum(['height', 'tile', 'print']),
  scale: z.coerce.number().min(0.01).max(100),
  up: z
    .string()
    .transform((text) => text.split(',').map(Number))
    .pipe(z.tuple([z.number(), z.number(), z.number()])),
  spin: z.coerce.number().min(-360).max(360),
  from: z.coerce.number().min(0).max(5000),
  to: z.coerce.number().min(0).max(5000),
  beside: z
    .array(z.string())
    .max(MOST_PARTS - 1)
    .optional(),
});

verb('place', 'a trial of a factor on a part of your own')
  .argument('<file>', 'STL, OBJ or 3MF')
  .requiredOption('--pair <pair>', 'a demo pair’s id, or a pair file')
  .option('--factor <id>', 'what is varied; without it, one print of the part')
  .option('--along <layout>', 'height, tile (copies) or print', 'print')
  .option('--unit <unit>', 'the unit of the file where it says none')
  .option('--scale <times>', 'its size', '1')
  .option('--up <x,y,z>', 'the direction of the file that points up', '0,0,1')
  .option('--spin <degrees>', 'turned about the vertical', '0')
  .option('--from <mm>', 'cut off beneath', '0')
  .option('--to <mm>', 'cut off above', '5000')
  .option('--beside <file...>', 'parts beside it on the plate, each as its file has it')
  .action((path: string, options: unknown) => {
    const asked = need(parse(placeOptions, options, 'options'));
    const { context, baseline } = pairOf(asked.pair);
    if (asked.factor !== undefined && !factorOf(asked.factor))
      throw new Refused([
        fault(
          'cli.factor',
          '--factor',
          `${asked.factor} is not in the catalogue`,
          'see catalogue for what can be varied',
        ),
      ]);
    const { file, part } = held(path);
    const unitOf = (own: typeof part) => units[asked.unit ?? own.unit ?? likelyUnit(longestOf(own))];
    const unit = unitOf(part);
    const length = Math.hypot(...asked.up);
    const up = asked.up.map((v) => v / length) as [number, number, number];
    const pose = { ...asFiled, unit, scale: asked.scale, spin: asked.spin, up };
    const placed = run(placePart(file, pose, { from: asked.from, to: asked.to }, baseline));
    const others = (asked.beside ?? []).map((other) => {
      const { file, part } = held(other);
      return run(placePart(file, { ...asFiled, unit: unitOf(part) }, undefined, baseline)).part;
    });
    const trial = others.reduce(withBeside, partTrial(placed.part, context, baseline, asked.factor, asked.along));
    need(checkedTrial(trial));
    print(trial);
  });

verb('make', 'trial file → checked G-code')
  .argument('<trial>', 'trial file (JSON)')
  .requiredOption('-o, --out <file>', 'where the G-code goes')
  .option('--report <file>', 'the report as JSON')
  .option('--map <file>', 'the label map as SVG')
  .option('--dialect <id>', 'write for another firmware')
  .option('--print <n>', 'of a trial by print: which print, counted from 1')
  .option('--part <file...>', 'of a trial on parts: their files, where they do not lie beside the trial')
  .action(
    (
      path: string,
      options: Record<'report' | 'map' | 'dialect' | 'print', string | undefined> & { out: string; part?: string[] },
    ) => {
      let plan = trialFrom(path);
      holdFor(path, plan.trial, options.part ?? []);
      if (options.dialect !== undefined) {
        const dialect = Object.values(dialects).find((d) => d.id === options.dialect);
        if (!dialect)
          throw new Refused([
            fault(
              'cli.dialect',
              '--dialect',
              `${options.dialect} is not a dialect`,
              `give ${Object.keys(dialects).join(', ')}`,
            ),
          ]);
        const { trial } = plan;
        const printer = { ...trial.context.printer, firmware: dialect.id };
        plan = need(checkedTrial({ ...trial, context: { ...trial.context, printer } }));
      }
      if (options.print !== undefined) plan = need(checkedTrial(asPrint(plan.trial, Number(options.print) - 1)));
      const made = run(make(plan.trial, new Date().toISOString().slice(0, 10)));
      writeWhole(options.out, made.file.bytes);
      if (options.report !== undefined) writeWhole(options.report, JSON.stringify(made.report, null, 2) + '\n');
      if (options.map !== undefined) writeWhole(options.map, labelMap(plan.built, plan.cells, plan.trial.title));
      print(made.report);
    },
  );

verb('inspect', 'what a G-code file does, read back from its text')
  .argument('<file>', 'any G-code; a file of ours carries its trial')
  .option('--trial <file>', 'the level map for a file of other origin')
  .option('--pair <pair>', 'printer and filament for a file that carries none')
  .action((path: string, options: { trial?: string; pair?: string }) => {
    const { bytes, plan, context, pair } = opened(path, options);
    print({ pair, ...told(run(inspect(bytes, context, plan)), plan) });
  });

const looseReading = z.strictObject({
  cell: z.int().min(0),
  track: z.string().min(1),
  value: readingSchema.shape.value,
  print: z.string().default('1'),
  judge: z.string().default(''),
  replicate: z.int().min(1).default(1),
  note: z.string().optional(),
  excluded: z.union([z.string(), z.boolean()]).optional(),
});

verb('settle', 'readings → a value, or the plain reason why there is none')
  .argument('<trial>', 'trial file (JSON)')
  .argument('<readings>', 'readings file (JSON list)')
  .option('--rule <id>', 'the choosing rule', 'best-combined')
  .action((trial: string, path: string, options: { rule: string }) => {
    const plan = trialFrom(trial);
    if (options.rule !== 'measured' && !rules.some((r) => r.id === options.rule)) {
      throw new Refused([
        fault('cli.rule', '--rule', `${options.rule} is not a rule`, `give ${rules.map((r) => r.id).join(', ')}`),
      ]);
    }
    const loose = need(parse(z.array(looseReading), readJson(path), 'readings'));
    const unknown = loose.findIndex((r) => !plan.cells.some((c) => c.id === r.cell));
    if (unknown >= 0) {
      throw new Refused([
        fault(
          'cli.cell',
          `readings.${unknown}.cell`,
          `there is no cell ${loose[unknown]!.cell}`,
          `give 0 to ${plan.cells.length - 1}`,
        ),
      ]);
    }
    const readings = loose.map(({ cell, excluded, note, ...rest }) => ({
      ...rest,
      cells: [cell],
      ...(note !== undefined && { note }),
      ...(excluded !== undefined && excluded !== false && { excluded: excluded === true ? 'excluded' : excluded }),
    }));
    const quantities = measuredOn(plan.trial);
    const { choices, flags, next } = settleWhole(plan, readings, { rule: options.rule, quantities });
    print({
      choices: choices.map((c) => ({ ...c, words: valueWords({ factor: c.factor, value: c.choice }) })),
      flags,
      next,
    });
  });

const labOptions = {
  seed: (text: string) =>
    need(parse(z.int().min(0).max(0xffffffff), Number(text === '' ? Number.NaN : text), '--seed')),
};

verb('lab', 'prints a G-code file on the practice printer: what came out, what a careful person reads, and the truth')
  .argument('<file>', 'any G-code; a file of ours carries its trial')
  .requiredOption('--printer <traits>', 'a file of hidden traits, or `drawn` to draw them by the seed')
  .requiredOption('--seed <n>', 'a whole number: the same file and seed give the same outcome')
  .requiredOption('--out <folder>', 'where the outcome goes; it is made where it is not there')
  .option('--pair <pair>', 'printer and filament for a file that carries none')
  .option('--faults <json>', 'what goes wrong on demand, as JSON or a file')
  .option('--today <day>', 'the day of the print as 2026-05-31: a filament takes up water since it was dried')
  .action(
    (
      path: string,
      options: { printer: string; seed: string; out: string; pair?: string; faults?: string; today?: string },
    ) => {
      const { bytes, plan, context, pair } = opened(path, options);
      const seed = labOptions.seed(options.seed);
      const traits =
        options.printer === 'drawn'
          ? drawTraits(context, seed, options.today)
          : need(parse(traitsSchema, readJson(options.printer), '--printer'));
      const said = options.faults?.trim();
      const faults =
        said === undefined
          ? {}
          : need(parse(faultsSchema, said.startsWith('{') ? parseJson(said, '--faults') : readJson(said), '--faults'));
      const outcome = run(printFile(bytes, context, traits, { seed, faults }));
      const truth = plan && truthOf(outcome, plan, bytes);
      const report = {
        pair,
        seed,
        faults,
        measurements: labMeasured(outcome),
        readings: truth ? readCarefully(outcome, plan, truth, { print: '1', judge: 'careful', seed }) : [],
        truth: {
          traits,
          whole: amountsAt(outcome, [{ z: [0, Infinity] }])[0],
          cells: (truth ?? []).map(({ cell, amounts, where }) => ({
            cell,
            levels: plan!.cells.find((c) => c.id === cell)?.levels,
            where,
            amounts,
          })),
        },
      };
      makeFolder(options.out);
      writeWhole(join(options.out, 'outcome.json'), JSON.stringify(report, null, 2) + '\n');
      const colours = coloursOf(context);
      const photos = Object.keys(views) as (keyof typeof views)[];
      for (const view of outcome.laid.n > 0 ? photos : []) {
        const { width, height, pixels } = run(photograph(outcome, { view, colours, seed }));
        const png = new PNG({ width, height });
        png.data = Buffer.from(pixels.buffer);
        writeWhole(join(options.out, `photo-${view}.png`), PNG.sync.write(png));
      }
      print({ pair, ...report.measurements, readings: report.readings.length });
    },
  );

/** What a person with a scale and a watch finds of a print. */
function labMeasured(outcome: Outcome) {
  const { time, mass, asked, fed, slipped, endedAt, looseFrom, strands, blobs } = outcome;
  return {
    time,
    mass,
    filament: { asked, fed, slipped },
    strands: strands.length,
    blobs: blobs.length,
    ...(endedAt !== undefined && { endedAt }),
    ...(looseFrom !== undefined && { looseFrom }),
  };
}

verb('calc', 'a sum of the trade, at full precision and rounded')
  .argument('<name>', calculators.map((c) => c.id).join(', '))
  .requiredOption('--in <json>', 'the figures as JSON, or a file')
  .action((name: string, options: { in: string }) => {
    const calculator = calculatorOf(name);
    if (!calculator)
      throw new Refused([
        fault('cli.calc', 'name', `${name} is not a calculator`, `give ${calculators.map((c) => c.id).join(', ')}`),
      ]);
    const text = options.in.trim();
    print(need(calculate(calculator, text.startsWith('{') ? parseJson(text, '--in') : readJson(text))));
  });

try {
  program.parse();
} catch (error) {
  if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? 0 : 2;
  else if (error instanceof Refused) {
    process.stderr.write(error.faults.map(sentence).join('\n') + '\n');
    process.exitCode = 2;
  } else {
    process.stderr.write(
      `Steady Tune failed: ${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`,
    );
    process.exitCode = 1;
  }
}
