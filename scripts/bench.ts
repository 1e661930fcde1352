// Ratios against a floor measured in the same run, since machines are noisy. Nothing here is asserted.
import { benchChoosing } from './bench-choosing';
import { benchCurves } from './bench-curves';
import { benchEngine } from './bench-engine';
import { benchKernels, kernelRow } from './bench-kernels';
import { benchLab } from './bench-lab';
import { benchLoop, loopPart } from './bench-loop';
import { benchPages } from './bench-pages';
import { benchPart } from './bench-part';
import { benchRoles } from './bench-roles';

const parts: Record<string, () => void | Promise<void>> = {
  kernels: benchKernels,
  curves: benchCurves,
  engine: benchEngine,
  roles: benchRoles,
  choosing: benchChoosing,
  lab: benchLab,
  part: benchPart,
  pages: benchPages,
};
/** What takes half an hour runs only when it is asked for. */
const long: typeof parts = { loop: benchLoop };

// `npm run bench -- kernels` runs one part only.
const asked = process.argv.slice(2);
const unknown = asked.filter((name) => !parts[name] && !long[name]);
if (asked[0] === 'loop-part') {
  const [from, to, by] = asked.slice(1).map(Number) as [number, number, number];
  loopPart(from, to, by);
} else if (asked[0] === 'kernel-row') kernelRow(Number(asked[1]));
else if (unknown.length > 0) {
  console.error(`There is no part ${unknown.join(', ')}; there are ${Object.keys({ ...parts, ...long }).join(', ')}.`);
  process.exitCode = 2;
} else for (const name of asked.length > 0 ? asked : Object.keys(parts)) await (parts[name] ?? long[name])!();
