import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { buildCli, installPackages, root } from './prepare.mjs';

installPackages();
buildCli();
const result = spawnSync(process.execPath, [join(root, 'dist/cli/main.js'), ...process.argv.slice(2)], {
  stdio: 'inherit',
});
process.exit(result.status ?? 1);
