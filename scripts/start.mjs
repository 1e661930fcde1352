import { buildServer, buildWeb, installPackages, root, run } from './prepare.mjs';
import { join } from 'node:path';

installPackages();
buildWeb();
buildServer();
run(process.execPath, [join(root, 'dist/server/index.js'), ...process.argv.slice(2)]);
