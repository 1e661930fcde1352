const alphabet = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';
const places = new Map([...alphabet].map((letter, i) => [letter, i]));

/** UTF-8 bytes of a text (the core has no TextEncoder). */
export function utf8(text: string): Uint8Array {
  const bytes: number[] = [];
  for (const letter of text) {
    const code = letter.codePointAt(0)!;
    if (code < 0x80) bytes.push(code);
    else if (code < 0x800) bytes.push(0xc0 | (code >> 6), 0x80 | (code & 63));
    else if (code < 0x10000) bytes.push(0xe0 | (code >> 12), 0x80 | ((code >> 6) & 63), 0x80 | (code & 63));
    else bytes.push(0xf0 | (code >> 18), 0x80 | ((code >> 12) & 63), 0x80 | ((code >> 6) & 63), 0x80 | (code & 63));
  }
  return Uint8Array.from(bytes);
}

/** Text of UTF-8 bytes; malformed sequences become U+FFFD. */
export function fromUtf8(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length;) {
    const lead = bytes[i++]!;
    const more = lead < 0x80 ? 0 : lead >= 0xf0 && lead < 0xf5 ? 3 : lead >= 0xe0 ? 2 : lead >= 0xc2 ? 1 : -1;
    if (more < 0 || lead >= 0xf5) {
      text += '\ufffd';
      continue;
    }
    let code = more === 0 ? lead : lead & (0x3f >> more);
    let good = true;
    for (let k = 0; k < more; k++) {
      const next = bytes[i];
      if (next === undefined || (next & 0xc0) !== 0x80) {
        good = false;
        break;
      }
      code = (code << 6) | (next & 63);
      i++;
    }
    text += good && code <= 0x10ffff && (code < 0xd800 || code > 0xdfff) ? String.fromCodePoint(code) : '\ufffd';
  }
  return text;
}

/** Base64 (RFC 4648, padded) of bytes. */
export function toBase64(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += 3) {
    const a = bytes[i]!;
    const b = bytes[i + 1] ?? 0;
    const c = bytes[i + 2] ?? 0;
    text += alphabet[a >> 2]! + alphabet[((a & 3) << 4) | (b >> 4)]!;
    text += i + 1 < bytes.length ? alphabet[((b & 15) << 2) | (c >> 6)]! : '=';
    text += i + 2 < bytes.length ? alphabet[c & 63]! : '=';
  }
  return text;
}

/** Bytes of base64 text; `undefined` when it is not base64. */
export function fromBase64(text: string): Uint8Array | undefined {
  if (text.length % 4 !== 0) return undefined;
  const padding = text.endsWith('==') ? 2 : text.endsWith('=') ? 1 : 0;
  const bytes = new Uint8Array((text.length / 4) * 3 - padding);
  let at = 0;
  for (let i = 0; i < text.length; i += 4) {
    let group = 0;
    for (let k = 0; k < 4; k++) {
      const letter = text[i + k]!;
      const value = letter === '=' && i + k >= text.length - padding ? 0 : places.get(letter);
      if (value === undefined) return undefined;
      group = (group << 6) | value;
    }
    if (at < bytes.length) bytes[at++] = (group >> 16) & 255;
    if (at < bytes.length) bytes[at++] = (group >> 8) & 255;
    if (at < bytes.length) bytes[at++] = group & 255;
  }
  return bytes;
}

const plainWords: Record<string, string> = {
  '²': '^2',
  '³': '^3',
  '×': 'x',
  '–': '-',
  '−': '-',
  '→': '->',
  '±': '+-',
  '√': 'root of ',
  '·': '*',
  '’': "'",
  '…': '...',
};

/** A sentence as lines of plain ASCII of at most `width` letters, broken between words. */
export function plainLines(text: string, width = 74): string[] {
  const plain = [...text]
    .flatMap((letter) => plainWords[letter] ?? [...letter.normalize('NFKD')])
    .map((letter) => (letter.charCodeAt(0) > 126 || letter < ' ' ? '' : letter))
    .join('');
  const lines: string[] = [];
  let line = '';
  for (const word of plain.split(/ +/)) {
    if (line !== '' && line.length + 1 + word.length > width) {
      lines.push(line);
      line = '';
    }
    line = line === '' ? word : `${line} ${word}`;
  }
  return line === '' ? lines : [...lines, line];
}
