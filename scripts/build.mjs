import { buildCli, buildServer, buildWeb, installPackages } from './prepare.mjs';

installPackages();
buildWeb();
buildServer();
buildCli();
