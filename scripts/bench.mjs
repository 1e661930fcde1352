import { bin, buildServer, buildWeb, installPackages, run } from './prepare.mjs';

installPackages();
buildWeb();
buildServer();
run(bin('tsx'), ['scripts/bench.ts', ...process.argv.slice(2)]);
