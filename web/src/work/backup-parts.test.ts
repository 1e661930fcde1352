import { describe, expect, it } from 'vitest';
import { bytesOf, flipEach, jpeg, kept, quiet, read, whole } from '../testing/backups';
import { keepParts } from './backup-parts';
import { hashOf } from './hash';

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
  it('gives parts back to the byte, though they are no text', async () => {
    const all = await whole(0, 0);
    const bytes = new Uint8Array(84 + 50 * 12).map((_, i) => (i * 37) % 251);
    bytes[80] = 12;
    const hash = await hashOf(bytes.buffer);
    const file = {
      hash,
      name: 'clip.stl',
      length: bytes.length,
      added: '2026-05-31',
      part: { unit: 1, said: false, objects: 1, triangles: 12 },
    };
    all.backup.files.push(file);
    all.files.push({ file, blob: new Blob([bytes]) });
    const { parts, left, files } = await kept(all);
    expect([left, files]).toEqual([[], 2]);
    const back = await read(parts);
    const own = back.blobs.find((b) => b.file.name === 'clip.stl')!;
    expect(own.file.part).toEqual(file.part);
    expect(await bytesOf(own.blob)).toEqual(bytes);
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
  // Every byte in `backup-parts.prove.ts`.
  it(
    'with any one byte changed is refused or taken in part, and never another without a word',
    () => flipEach(4),
    300_000,
  );
});
