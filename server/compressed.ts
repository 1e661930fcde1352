import { readdirSync } from 'node:fs';
import { join, relative, sep } from 'node:path';
import type { RequestHandler } from 'express';

/** How files are kept compressed beside themselves, the smallest first. */
const encodings = { br: '.br', gzip: '.gz' } as const;

/** The name of a file without the ending of its compressed twin. */
export const plainName = (path: string): string => path.replace(/\.(br|gz)$/, '');

/**
 * Answers with a file’s compressed twin, where one was built and the browser takes it. What stands in the folder is
 * looked up once.
 */
export function compressed(folder: string): RequestHandler {
  const built = new Set(
    readdirSync(folder, { recursive: true, withFileTypes: true })
      .filter((e) => e.isFile())
      .map((e) => `/${relative(folder, join(e.parentPath, e.name)).split(sep).join('/')}`),
  );
  return (request, response, next) => {
    const path = request.path.endsWith('/') ? `${request.path}index.html` : request.path;
    // A twin is no page of its own.
    if (plainName(path) !== path && built.has(plainName(path))) {
      response.status(404).type('text').send('There is nothing here.');
      return;
    }
    if (built.has(`${path}${encodings.br}`)) {
      response.vary('Accept-Encoding');
      const taken = request.acceptsEncodings('br', 'gzip') as keyof typeof encodings | false;
      if (taken && built.has(`${path}${encodings[taken]}`)) {
        response.setHeader('Content-Encoding', taken);
        response.type(path.slice(path.lastIndexOf('.')));
        request.url = `${path}${encodings[taken]}`;
      }
    }
    next();
  };
}
