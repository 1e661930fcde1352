/** Hands bytes to the browser as a download. */
export function download(name: string, content: Uint8Array<ArrayBuffer> | string | Blob, type: string): void {
  const url = URL.createObjectURL(new Blob([content], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

/** A file name of plain letters, of whole words up to 120 letters. */
export function fileName(text: string, ending: string): string {
  const words = text
    .toLowerCase()
    .replace(/→/g, ' to ')
    // Without its sign a figure would be another.
    .replace(/−(?=\d)/g, ' minus ')
    // A decimal point stays one: 0.4 is not 0-4.
    .replace(/(\d)[.,](\d)/g, '$1.$2')
    .replace(/[^a-z0-9.]+|\.(?!\d)/g, '-')
    .replace(/-{2,}/g, '-')
    .replace(/^-|-$/g, '');
  return `${words.length > 120 ? words.slice(0, 121).replace(/-[^-]*$/, '') : words}.${ending}`;
}
