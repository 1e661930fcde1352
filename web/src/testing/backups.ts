import { expect } from 'vitest';
import { demoData } from '#core/demo';
import { withPhoto, type Backup, type TrialRecord } from '#core/route';
import { hashOf } from '../work/hash';
import { keepParts, readParts, type Restored, type ToKeep } from '../work/backup-parts';

export const quiet = () => undefined;
export const bytesOf = async (blob: Blob) => new Uint8Array(await blob.arrayBuffer());
export const jpeg = (n: number, length: number) =>
  new Uint8Array(length).map((_, i) => (i < 2 ? [0xff, 0xd8][i]! : i * n));

/** A backup with so many photos of so many bytes, and a file. */
export async function whole(count: number, length: number, records = demoData().records): Promise<ToKeep> {
  const photos: ToKeep['photos'] = [];
  const [start, ...rest] = records;
  let first: TrialRecord = { ...start!, photos: [] };
  for (let n = 1; n <= count; n++) {
    const bytes = jpeg(n, length);
    const hash = await hashOf(bytes.buffer);
    photos.push({ hash, of: first.trial.title, blob: new Blob([bytes]) });
    first = withPhoto(first, { hash, print: 'p', name: `${n}.jpg`, width: 9, height: 9 });
  }
  const text = 'G28\nM140 S{bed}\nG1 X1\n';
  const file = {
    hash: await hashOf(new TextEncoder().encode(text).buffer),
    name: 'clip.gcode',
    length: text.length,
    added: '2026-11-01',
  };
  const draft = { ...demoData().printers[0]!, name: '' };
  const backup: Backup = {
    ...demoData(),
    records: [first, ...rest],
    histories: [{ id: first.id, at: 1, steps: [{ words: 'tick', patches: [{ path: ['rule'], from: 'a', to: 'b' }] }] }],
    drafts: [{ shelf: 'printers', id: 'heron', document: draft }],
    files: [file],
  };
  return { backup, photos, files: [{ file, blob: new Blob([text]) }] };
}
export const kept = async (all: ToKeep, most?: number) => {
  const r = await keepParts(all, quiet, most);
  if (!r.ok) throw new Error(r.faults[0]!.wrong);
  return r.value;
};
export const read = async (parts: Blob[]): Promise<Restored> => {
  const r = await readParts(
    parts.map((blob, k) => ({ name: `part ${k + 1}`, blob })),
    quiet,
  );
  if (!r.ok) throw new Error(`${r.faults[0]!.at}: ${r.faults[0]!.wrong}`);
  return r.value;
};

/**
 * A small backup with one bit of every so many bytes turned over: it is refused or taken in part, and never gives back
 * another thing without a word.
 */
export async function flipEach(stride: number): Promise<void> {
  const { printers, filaments, pairs, records } = demoData();
  const all = await whole(1, 60, records.filter((r) => r.pair === pairs[2]!.id).slice(0, 1));
  const small = {
    ...all.backup,
    printers: printers.slice(2),
    filaments: filaments.slice(2, 3),
    pairs: pairs.slice(2),
  };
  const { parts } = await kept({ ...all, backup: small });
  const bytes = await bytesOf(parts[0]!);
  const good = await told(await read([new Blob([bytes])]));
  let [refused, part, same] = [0, 0, 0];
  for (let i = 0; i < bytes.length; i += stride) {
    const copy = bytes.slice();
    copy[i]! ^= 1 << ((i / stride) % 8);
    let back: Restored;
    try {
      back = await read([new Blob([copy])]);
    } catch {
      refused++;
      continue;
    }
    const now = await told(back);
    if (now === good) same++;
    else {
      part++;
      // What is given back is what was put in, and what is not is named.
      expect(back.left.length, `byte ${i}`).toBeGreaterThan(0);
      const had = JSON.parse(good) as Record<string, unknown[]>;
      for (const [key, list] of Object.entries(JSON.parse(now) as Record<string, unknown[]>))
        for (const one of list) expect(had[key], `byte ${i}`).toContainEqual(one);
    }
  }
  expect(refused + part).toBeGreaterThan(bytes.length / stride / 2);
  expect(part).toBeGreaterThan(20 / stride);
  // Dates and the like of the zip itself say nothing of the work.
  expect(same).toBeLessThan(bytes.length / stride / 4);
}

/** All that a backup gives back, as text. */
async function told(r: Restored): Promise<string> {
  const photos = await Promise.all(r.photos.map(async (p) => [p.hash, [...(await bytesOf(p.blob))].join()]));
  const blobs = await Promise.all(r.blobs.map(async (b) => [b.file, await b.blob.text()]));
  return JSON.stringify({ ...r.documents, histories: r.histories, drafts: r.drafts, photos, blobs });
}
