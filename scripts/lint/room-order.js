/**
 * The rooms of the core, in the order in which they may be imported: a room imports only from rooms above it.
 * The same list stands in `docs/architecture.md`.
 */
export const rooms = [
  'base',
  'firmware',
  'geometry',
  'part',
  'context',
  'settings',
  'moves',
  'motion',
  'gcode',
  'wire',
  'factors',
  'plan',
  'specimens',
  'trial',
  'toolpath',
  'check',
  'inspect',
  'make',
  'carry',
  'photo',
  'judge',
  'sums',
  'settle',
  'route',
  'lab',
  'careful',
  'demo',
];

/** Rooms that may know no more than these, whatever stands above them: the practice printer knows nothing of trials. */
export const knowsOnly = {
  lab: ['base', 'firmware', 'geometry', 'context', 'settings', 'moves', 'motion', 'gcode', 'wire'],
};

/** The folders of the page, in the order in which they may be imported. The tests’ own folder may be anywhere. */
export const places = [
  'work',
  'data',
  'ui',
  'toolpath',
  'tune-sheet',
  'route',
  'files',
  'parts',
  'trial-sheet',
  'phone',
  'first-start',
  'shelf',
  'shell',
];

const roomOf = (path) => /(?:^|\/)core\/([^/]+)\//.exec(path)?.[1];

/** ESLint rule: `core/<room>` may import `#core/<other>` only when `other` stands above it; no door is bypassed. */
export const roomOrder = {
  meta: { type: 'problem', schema: [], docs: { description: 'rooms of the core import only from rooms above them' } },
  create(context) {
    const from = roomOf(context.filename.replaceAll('\\', '/'));
    const visit = (node) => {
      const source = node.source?.value;
      if (typeof source !== 'string' || from === undefined) return;
      if (!rooms.includes(from)) {
        context.report({ node, message: `core/${from} is not a known room; add it to scripts/lint/room-order.js.` });
        return;
      }
      if (source === '#core') {
        context.report({ node, message: `core/${from} must import a room (#core/<room>), not the whole core.` });
        return;
      }
      const to = /^#core\/([^/]+)$/.exec(source)?.[1];
      if (to !== undefined && rooms.indexOf(to) >= rooms.indexOf(from)) {
        context.report({
          node,
          message: `core/${from} imports core/${to}, which does not stand above it; move the code up or turn the call around.`,
        });
      }
      const known = knowsOnly[from];
      if (to !== undefined && known && !known.includes(to)) {
        context.report({ node, message: `core/${from} may know of ${known.join(', ')} only, not of core/${to}.` });
      }
      if (source.startsWith('..') && /^(\.\.\/)+/.test(source)) {
        const depth = context.filename.replaceAll('\\', '/').split('/core/')[1]?.split('/').length ?? 0;
        const ups = source.split('/').filter((part) => part === '..').length;
        if (ups >= depth - 1) {
          context.report({ node, message: `core/${from} reaches into another room by path; import '#core/<room>'.` });
        }
      }
    };
    return { ImportDeclaration: visit, ExportNamedDeclaration: visit, ExportAllDeclaration: visit };
  },
};

const placeOf = (path) => /(?:^|\/)web\/src\/([^/]+)\//.exec(path)?.[1];

/** ESLint rule: a folder of the page imports only from folders that stand before it in the list. */
export const placeOrder = {
  meta: {
    type: 'problem',
    schema: [],
    docs: { description: 'folders of the page import only from those before them' },
  },
  create(context) {
    const from = placeOf(context.filename.replaceAll('\\', '/'));
    const visit = (node) => {
      const source = node.source?.value;
      const to = typeof source === 'string' ? /^(?:\.\.\/)+([^./]+)\//.exec(source)?.[1] : undefined;
      if (from === undefined || to === undefined || to === from) return;
      if (!places.includes(from))
        context.report({ node, message: `web/${from} is not a known folder; add it to scripts/lint/room-order.js.` });
      else if (places.indexOf(to) >= places.indexOf(from))
        context.report({ node, message: `web/${from} imports web/${to}, which does not stand before it.` });
    };
    return { ImportDeclaration: visit, ExportNamedDeclaration: visit, ExportAllDeclaration: visit };
  },
};
