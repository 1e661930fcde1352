/** Hands bytes to the browser as a download. */
export function download(name: string, content: Uint8Array<ArrayBuffer> | string | Blob, type: string): void {
  const url = URL.createObjectURL(new Blob([content], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

/** A file name of plain letters. */
export const fileName = (text: string, ending: string): string =>
  `${text
    .toLowerCase()
    .replace(/→/g, '-')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 60)}.${ending}`;
