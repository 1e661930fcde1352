import { describe, expect, it } from 'vitest';
import { demoData } from '#core/demo';
import { withPhoto, type Backup, type TrialRecord } from '#core/route';
import { hashOf } from '../data/hash';
import { keepParts, readParts, type Restored, type ToKeep } from './backup-parts';

const quiet = () => undefined;
const bytesOf = async (blob: Blob) => new Uint8Array(await blob.arrayBuffer());
const jpeg = (n: number, length: number) => new Uint8Array(length).map((_, i) => (i < 2 ? [0xff, 0xd8][i]! : i * n));

/** A backup with so many photos of so many bytes, and a file. */
async function whole(count: number, length: number, records = demoData().records): Promise<ToKeep> {
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
const kept = async (all: ToKeep, most?: number) => {
  const r = await keepParts(all, quiet, most);
  if (!r.ok) throw new Error(r.faults[0]!.wrong);
  return r.value;
};
const read = async (parts: Blob[]): Promise<Restored> => {
  const r = await readParts(
    parts.map((blob, k) => ({ name: `part ${k + 1}`, blob })),
    quiet,
  );
  if (!r.ok) throw new Error(`${r.faults[0]!.at}: ${r.faults[0]!.wrong}`);
  return r.value;
};

describe('a backup', () => {
  it('gives everything back: documents, undo, drafts, photos and files', async () => {
    const all = await whole(3, 400);
    const { parts, left, photos, files } = await kept(all);
    expect([parts.length, left, photos, files]).toEqual([1, [], 3, 1]);
    const back = await read(parts);
    const { printers, filaments, pairs, records, histories, drafts } = all.backup;
    expect(back.documents).toEqual({ printers, filaments, pairs, records });
    expect([back.histories, back.drafts, back.left, back.mended]).toEqual([histories, drafts, [], []]);
    for (const [k, { blob }] of back.photos.entries()) expect(await bytesOf(blob)).toEqual(jpeg(k + 1, 400));
    expect(back.blobs.map((b) => b.file.name)).toEqual(['clip.gcode']);
    expect(await back.blobs[0]!.blob.text()).toBe('G28\nM140 S{bed}\nG1 X1\n');
  });
  it('comes in parts where it is large; a part that is not chosen is missed by name', async () => {
    const all = await whole(10, 5000);
    const { parts } = await kept(all, 20_000);
    expect(parts.length).toBeGreaterThan(2);
    for (const p of parts) expect(p.size).toBeLessThan(30_000);
    const back = await read([...parts].reverse());
    expect([back.photos.length, back.blobs.length, back.left]).toEqual([10, 1, []]);
    const some = await read(parts.slice(0, 2));
    expect(some.documents.records).toHaveLength(all.backup.records.length);
    expect(some.left.length).toBe(10 - some.photos.length + (1 - some.blobs.length));
    expect(some.left[0]!.why).toMatch(/^it is in part \d, which was not chosen$/);
    await expect(read([parts[1]!])).rejects.toThrow(/it is part 2 of \d, and the first part is not among/);
    // Parts of two backups do not mix.
    const other = await kept({ ...(await whole(10, 5000)), backup: { ...all.backup, set: 'other' } }, 20_000);
    const mixed = await read([parts[0]!, other.parts[1]!]);
    expect(mixed.left[0]).toEqual({ what: 'part 2', why: 'it is a part of another backup' });
  });
  it('is made though a photo or file cannot be read, and says which', async () => {
    const all = await whole(2, 300);
    all.photos[0] = { ...all.photos[0]!, blob: undefined };
    all.photos[1] = { ...all.photos[1]!, blob: new Blob(['something else']) };
    all.files[0] = { ...all.files[0]!, blob: undefined };
    const { left, photos } = await kept(all);
    expect(photos).toBe(0);
    expect(left.map((l) => l.why)).toEqual([
      'it cannot be read in this browser',
      'it is damaged in this browser',
      'the file is not kept in this browser any more',
    ]);
  });
  it('is not called made where not everything can be read back', async () => {
    const all = await whole(0, 0);
    const broken = { ...all.backup, printers: [{ ...all.backup.printers[0]!, height: -1 }] };
    const r = await keepParts({ ...all, backup: broken }, quiet);
    expect(r.ok ? '' : r.faults[0]!.wrong).toMatch(/^read back, not everything was in it: printer Heron, height/);
  });
  it('with any one byte changed is refused or taken in part, and never another without a word', async () => {
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
    for (let i = 0; i < bytes.length; i++) {
      const copy = bytes.slice();
      copy[i]! ^= 1 << (i % 8);
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
    expect(refused + part).toBeGreaterThan(bytes.length / 2);
    expect(part).toBeGreaterThan(20);
    // Dates and the like of the zip itself say nothing of the work.
    expect(same).toBeLessThan(bytes.length / 4);
  }, 300_000);
});

/** All that a backup gives back, as text. */
async function told(r: Restored): Promise<string> {
  const photos = await Promise.all(r.photos.map(async (p) => [p.hash, [...(await bytesOf(p.blob))].join()]));
  const blobs = await Promise.all(r.blobs.map(async (b) => [b.file, await b.blob.text()]));
  return JSON.stringify({ ...r.documents, histories: r.histories, drafts: r.drafts, photos, blobs });
}
