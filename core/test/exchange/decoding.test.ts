import { describe, expect, it } from 'vitest';
import { decodeText, readDxf } from '#core/exchange';
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

  it.each([
    ['ANSI_1251', [0xc4, 0xee, 0xf0, 0xee, 0xe3, 0xe0], 'Дорога', 'windows-1251'],
    ['ANSI_1253', [0xc4, 0xf1, 0xfc, 0xec, 0xef, 0xf2], 'Δρόμος', 'windows-1253'],
    ['ansi_1250', [0xa3, 0xf3, 0x64, 0x9f], 'Łódź', 'windows-1250'],
    ['ANSI_936', [0xb5, 0xc0, 0xc2, 0xb7], '道路', 'gbk'],
    ['ANSI_1252', [0x48, 0xf6, 0x68, 0x65], 'Höhe', 'windows-1252'],
    ['constructor', [0x48, 0xf6, 0x68, 0x65], 'Höhe', 'windows-1252'],
  ] as const)(
    'takes the code page that a drawing declares, %s, where it is not UTF-8',
    (page, letters, word, encoding) => {
      const head = (end: string): string => ['0', 'SECTION', '2', 'HEADER', '9', '$DWGCODEPAGE', '  3', page, '0', 'ENDSEC', '0', 'SECTION', '2', 'ENTITIES', '0', 'POINT', '8', ''].join(end); // prettier-ignore
      for (const end of ['\n', '\r\n']) {
        const decoded = decodeText(bytes(head(end), [...letters], ['', '10', '1', '20', '2', '0', 'ENDSEC', '0', 'EOF', ''].join(end))); // prettier-ignore
        expect(decoded).toMatchObject({ ok: true, encoding });
        if (decoded.ok)
          expect(readDxf(decoded.text).points).toEqual([{ layer: word, x: 1, y: 2, z: 0, kind: 'POINT' }]);
      }
      // What is UTF-8 is that, whatever it declares.
      expect(decodeText(bytes(head('\n'), 'Дорога'))).toMatchObject({ encoding: 'utf-8' });
    },
  );

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
