// Ratios against a floor measured in the same run, since machines are noisy. Nothing here is asserted.
import { benchChoosing } from './bench-choosing';
import { benchEngine } from './bench-engine';
import { benchKernels } from './bench-kernels';
import { benchLab } from './bench-lab';
import { benchPages } from './bench-pages';
import { benchRoles } from './bench-roles';

const parts: Record<string, () => void | Promise<void>> = {
  kernels: benchKernels,
  engine: benchEngine,
  roles: benchRoles,
  choosing: benchChoosing,
  lab: benchLab,
  pages: benchPages,
};

// `npm run bench -- kernels` runs one part only.
const asked = process.argv.slice(2);
const unknown = asked.filter((name) => !parts[name]);
if (unknown.length > 0) {
  console.error(`There is no part ${unknown.join(', ')}; there are ${Object.keys(parts).join(', ')}.`);
  process.exitCode = 2;
} else for (const name of asked.length > 0 ? asked : Object.keys(parts)) await parts[name]!();
