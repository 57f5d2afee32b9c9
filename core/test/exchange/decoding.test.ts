import { describe, expect, it } from 'vitest';
import { decodeText } from '#core/exchange';
const bytes = (...parts: (number[] | string)[]): Uint8Array =>
  Uint8Array.from(parts.flatMap((p) => (typeof p === 'string' ? [...new TextEncoder().encode(p)] : p)));
const utf16 = (text: string, little: boolean): number[] =>
  [...text].flatMap((c) =>
    little ? [c.charCodeAt(0) & 255, c.charCodeAt(0) >> 8] : [c.charCodeAt(0) >> 8, c.charCodeAt(0) & 255],
  );

describe('decoding', () => {
  it('finds byte order marks, UTF-16 without one, UTF-8, and else Windows-1252', () => {
    expect(decodeText(bytes([0xef, 0xbb, 0xbf], '1,2'))).toMatchObject({
      ok: true,
      text: '1,2',
      encoding: 'utf-8',
      bom: true,
    });
    expect(decodeText(bytes([0xff, 0xfe], utf16('1,2', true)))).toMatchObject({ text: '1,2', encoding: 'utf-16le' });
    expect(decodeText(bytes([0xfe, 0xff], utf16('1,2', false)))).toMatchObject({ text: '1,2', encoding: 'utf-16be' });
    expect(decodeText(bytes(utf16('1;4312,5;7741,2', true)))).toMatchObject({
      text: '1;4312,5;7741,2',
      encoding: 'utf-16le',
    });
    for (const end of ['\n', '\r\n', '\r']) expect(decodeText(bytes(`1,2${end}3,4${end}`))).toMatchObject({ text: end === '\r' ? '1,2\n3,4\n' : `1,2${end}3,4${end}` }); // prettier-ignore
    expect(decodeText(bytes('Höhe'))).toMatchObject({ text: 'Höhe', encoding: 'utf-8' });
    expect(decodeText(bytes('H', [0xf6], 'he'))).toMatchObject({ text: 'Höhe', encoding: 'windows-1252' });
  });

  it('has the letters of Windows-1252 that some engines turn into control characters', () => {
    const decoded = decodeText(bytes('H', [0xf6], 'he ', [0x80, 0x96, 0x8a, 0x93, 0x94, 0x81], ' 5'));
    expect(decoded).toMatchObject({ ok: true, encoding: 'windows-1252', text: 'Höhe €–Š“”\u0081 5' });
  });

  it('refuses what is no text with what to ask the sender for', () => {
    for (const [content, says] of [
      [bytes(), 'empty'],
      [bytes('AC1027', [0, 0, 0]), 'closed native drawing'],
      [bytes('PK', [3, 4, 20, 0]), 'save the sheet as CSV'],
      [bytes('%PDF-1.7'), 'PDF'],
      [Uint8Array.from({ length: 4000 }, (_, i) => (i * 131) % 256), 'binary'],
    ] as const) {
      const answer = decodeText(content);
      expect(answer.ok).toBe(false);
      if (!answer.ok) {
        expect(answer.reason).toContain(says);
        if (content.length) expect(answer.reason).toContain('DXF, LandXML or GeoJSON');
      }
    }
  });
});
