import { buildBench, buildServer, buildWeb, installPackages, run } from './prepare.mjs';

const parts = process.argv.slice(2);
installPackages();
if (parts.length === 0 || parts.includes('pages')) {
  buildWeb();
  buildServer();
}
buildBench();
run(process.execPath, ['dist/bench/bench.js', ...parts]);
