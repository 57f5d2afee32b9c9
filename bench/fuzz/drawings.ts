// Small drawings with every kind of entity that is read, as text and binary, to be damaged.

const GROUPS = [
  '0 SECTION 2 HEADER 9 $ACADVER 1 AC1021 9 $INSUNITS 70 6 0 ENDSEC',
  '0 SECTION 2 TABLES 0 TABLE 2 LAYER 0 LAYER 2 OLD 70 1 62 7 0 ENDTAB 0 ENDSEC',
  '0 SECTION 2 BLOCKS 0 BLOCK 2 TREE 70 0 10 1.0 20 1.0 30 0.0 0 CIRCLE 8 0 10 0.0 20 0.0 40 2.0 0 INSERT 8 0 2 ROOT 10 0.0 20 0.0 50 30.0 0 ENDBLK',
  '0 BLOCK 2 ROOT 70 0 10 0.0 20 0.0 0 LINE 8 0 10 0.0 20 0.0 30 1.0 11 5.0 21 5.0 31 2.0 0 ENDBLK 0 ENDSEC',
  '0 SECTION 2 ENTITIES',
  '0 INSERT 8 A 2 TREE 10 5.0 20 6.0 41 2.0 42 -2.0 50 15.0 70 2 71 3 44 10.0 45 20.0 66 1 0 ATTRIB 8 A 2 N 1 7 10 0.0 20 0.0 0 SEQEND',
  '0 ELLIPSE 8 E 10 0.0 20 0.0 30 0.0 11 9.0 21 2.0 31 0.0 40 0.5 41 0.5 42 4.0 210 0.0 220 0.0 230 -1.0',
  '0 SPLINE 8 S 70 8 71 2 72 6 73 3 40 0.0 40 0.0 40 0.0 40 1.0 40 1.0 40 1.0 10 0.0 20 0.0 30 0.0 10 5.0 20 9.0 30 1.0 10 9.0 20 0.0 30 2.0',
  '0 HATCH 8 H 10 0.0 20 0.0 30 5.0 91 2 92 2 72 1 73 1 93 3 10 0.0 20 0.0 42 0.5 10 9.0 20 0.0 42 0.0 10 9.0 20 9.0 42 0.0 97 0 92 1 93 2 72 1 10 0.0 20 0.0 11 4.0 21 0.0 72 2 10 2.0 20 0.0 40 2.0 50 0.0 51 180.0 73 1 97 0',
  '0 MESH 8 M 71 2 72 0 91 0 92 3 10 0.0 20 0.0 30 0.0 10 4.0 20 0.0 30 0.0 10 0.0 20 4.0 30 1.0 93 4 90 3 90 0 90 1 90 2 94 0',
  '0 MTEXT 8 T 10 1.0 20 2.0 30 0.0 3 {\\fX;first 1 second\\P%%d',
  '0 POLYLINE 8 P 66 1 70 64 71 3 72 1 0 VERTEX 10 0.0 20 0.0 30 0.0 70 192 0 VERTEX 10 4.0 20 0.0 30 0.0 70 192 0 VERTEX 10 0.0 20 4.0 30 0.0 70 192 0 VERTEX 10 0.0 20 0.0 70 128 71 1 72 2 73 -3 0 SEQEND',
  '0 SOLID 8 F 10 0.0 20 0.0 11 4.0 21 0.0 12 0.0 22 3.0 0 ENDSEC 0 EOF',
]
  .flatMap((row) => row.split(' '))
  .map(String);

export const DRAWING = `${GROUPS.join('\n')}\n`;

/** The same in binary, codes of two bytes (DXF reference). */
export function binaryDrawing(): Uint8Array {
  // The mark names one word before it; any will do.
  const bytes: number[] = [...'Generic Binary DXF\r\n\x1a\0'].map((c) => c.charCodeAt(0));
  const view = new DataView(new ArrayBuffer(8));
  const put = (n: number): void => {
    for (let i = 0; i < n; i++) bytes.push(view.getUint8(i));
  };
  for (let i = 0; i + 1 < GROUPS.length; i += 2) {
    const code = Number(GROUPS[i]);
    const said = GROUPS[i + 1];
    view.setUint16(0, code, true);
    put(2);
    if ((code >= 10 && code <= 59) || (code >= 210 && code <= 239)) {
      view.setFloat64(0, Number(said), true);
      put(8);
    } else if (code >= 60 && code <= 79) {
      view.setInt16(0, Number(said), true);
      put(2);
    } else if (code >= 90 && code <= 99) {
      view.setInt32(0, Number(said), true);
      put(4);
    } else bytes.push(...[...said].map((c) => c.charCodeAt(0)), 0);
  }
  return Uint8Array.from(bytes);
}
