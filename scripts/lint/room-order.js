/**
 * The rooms of the core, in the order in which they may be imported: a room imports only from rooms above it.
 * The same list stands in `docs/architecture.md`.
 */
export const rooms = [
  'base',
  'firmware',
  'geometry',
  'context',
  'settings',
  'moves',
  'motion',
  'gcode',
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
  'demo',
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
