// Without the library's own workers: this runs in one already, and a strict policy allows no others.
import {
  BlobReader,
  BlobWriter,
  configure,
  ZipReader,
  ZipWriter,
  type FileEntry,
} from '@zip.js/zip.js/lib/zip-core-external.js';

configure({ useWebWorkers: false });

/** Content to be packed under a path; text is made smaller, what is packed already is not. */
export interface ToPack {
  path: string;
  content: Blob;
  small?: true;
}

/** Packs content into one zip, in order. */
export async function zipped(entries: AsyncIterable<ToPack> | Iterable<ToPack>): Promise<Blob> {
  const writer = new ZipWriter(new BlobWriter('application/zip'), { keepOrder: true, extendedTimestamp: false });
  for await (const { path, content, small } of entries)
    await writer.add(path, new BlobReader(content), { level: small ? 6 : 0 });
  return writer.close();
}

/** Content of a zip by its path, read only when asked. */
export interface Packed {
  path: string;
  /** Length when unpacked, as the zip says, bytes. */
  length: number;
  /** The content; rejects where its CRC-32 is another, or where it is longer than it says. */
  content(): Promise<Blob>;
}

/** What is in a zip; rejects where it is none. */
export async function unzipped(zip: Blob): Promise<Packed[]> {
  const entries = await new ZipReader(new BlobReader(zip)).getEntries();
  return entries
    .filter((e): e is FileEntry => !e.directory)
    .map((entry) => ({
      path: entry.filename,
      length: entry.uncompressedSize,
      content: async () => {
        const content = await entry.getData(new BlobWriter(), { checkSignature: true });
        if (content.size !== entry.uncompressedSize) throw new Error('its length is another');
        return content;
      },
    }));
}
