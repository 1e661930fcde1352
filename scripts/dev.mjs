import { bin, installPackages, run } from './prepare.mjs';

installPackages();
run(bin('ng'), ['serve']);
