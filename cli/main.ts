import { commandLine } from './cli';

process.exitCode = commandLine(process.argv.slice(2), {
  out: (text) => void process.stdout.write(text),
  err: (text) => void process.stderr.write(text),
});
