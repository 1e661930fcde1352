// The long runs: what `npm test` holds by a tenth. Names of files given are those of the core alone.
import { mutants } from './mutants.mjs';
import { bin, buildServer, buildWeb, installPackages, needChromium, run } from './prepare.mjs';

installPackages();
const only = process.argv.slice(2);
run(bin('vitest'), ['run', '--config', 'vitest.prove.config.ts', ...only]);
if (only.length === 0) {
  // Another sample of the bounds of the safety rules each day.
  const left = mutants(60, 1 + (Math.floor(Date.now() / 86_400_000) % 10_000));
  if (left.length > 0) {
    console.log(`no test noticed ${left.length} broken bounds of the safety rules`);
    process.exitCode = 1;
  }
  const CHROMIUM = needChromium();
  buildWeb();
  buildServer();
  run(bin('playwright'), ['test', 'attacks', '-g', 'killed'], { env: { ...process.env, CHROMIUM, KILLS: '40' } });
}
