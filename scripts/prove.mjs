// The long runs: what `npm test` holds by a tenth. Names of files given are those of the core alone.
import { bin, buildServer, buildWeb, installPackages, needChromium, run } from './prepare.mjs';

installPackages();
const only = process.argv.slice(2);
run(bin('vitest'), ['run', '--config', 'vitest.prove.config.ts', ...only]);
if (only.length === 0) {
  const CHROMIUM = needChromium();
  buildWeb();
  buildServer();
  run(bin('playwright'), ['test', 'attacks', '-g', 'killed'], { env: { ...process.env, CHROMIUM, KILLS: '40' } });
}
