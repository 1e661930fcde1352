// How much of the length of each kind of trial gets its right kind of line from geometry alone.
import { toldRoles } from '../core/testing/roles-known';
import { kinds } from '#core/trial';

const percent = (share: number) => `${(100 * share).toFixed(1)} %`;

export function benchRoles(): void {
  console.log('\n| kind of trial | right | taken wrongly, most first |\n| --- | --- | --- |');
  let [right, all] = [0, 0];
  const columns = kinds
    .filter((k) => /^support-/.test(k.id))
    .map((k) => [k.id, { supportStructure: 'columns' }] as const);
  for (const [id, frozen] of [...kinds.map((k) => [k.id, {}] as const), ...columns]) {
    const told = toldRoles(id, frozen);
    if (told.length === 0) continue;
    right += told.right;
    all += told.length;
    const wrong = told.wrong.slice(0, 2).flatMap(([what, length]) => {
      const share = length / told.length;
      return share >= 0.003 ? [`${what} ${percent(share)}`] : [];
    });
    const name = 'supportStructure' in frozen ? `${id}, ${frozen.supportStructure}` : id;
    console.log(`| ${name} | ${percent(told.right / told.length)} | ${wrong.join(', ')} |`);
  }
  console.log(`| all, by length | ${percent(right / all)} | |`);
}
