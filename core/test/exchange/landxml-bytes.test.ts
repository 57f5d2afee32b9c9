import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isLandXmlDrawing, readLandXml, readLandXmlBytes } from '#core/exchange';

// What is read from bytes is held against what the XML parser (saxes) makes of the same text.

const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);
const surface = (points: string, faces: string, head = ''): string =>
  `<?xml version="1.0"?>\n<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2">${head}\n<Surfaces><Surface name="S"><Definition surfType="TIN"><Pnts>${points}</Pnts>\n<Faces>${faces}</Faces></Definition></Surface></Surfaces></LandXML>`;
const both = (text: string) => ({ fast: readLandXmlBytes(bytesOf(text)), slow: readLandXml(text) });

const PLAIN = ['<P id="1">10 20 3</P>', '<P id="2">10.5 30.25 -3.125</P>\n', "\n <P id='3'>20 20 4e1</P>", '<P id="10">5 5 5</P>', '<P>7 7 7</P>', '<P id="4" n="x">1\t2\r\n3</P>']; // prettier-ignore
const ODD = ['<P id="07">1 2 3</P>', '<P id="a">1 2 3</P>', '<P id="5">1 2</P>', '<P id="6">1 x 3</P>', '<P id="8">1 2 3 4</P>', '<!-- <Pnts> <P id="9">1 2 3</P> -->', '<P id="11">1 <!-- here --> 2 3</P>', '<![CDATA[<Pnts>]]>', '<P id="12" >1 2 3</P >', '<P id="&#49;3">1 2 3</P>', '<P id="14">1e400 2 3</P>', '<Q/>', 'words', '<P id="15">１ 2 3</P>', '<P id="16" id="17">1 2 3</P>', '<P id="18">1 2 3', '<P xmlns="urn:other" id="19">1 2 3</P>', '<Feature code="x"/>', '<P id="20">0x10 2 3</P>', '<P id="21">.5 5. +3</P>', '<P id="22">1 2 3</F>', '<P id="1">9 9 9</P>', '<P id="99999999999">1 2 3</P>', '<?note <Pnts> ?>']; // prettier-ignore
const FACES = ['<F>1 2 3</F>', '\n<F i="1">1 2 3</F>', '<F n="2 0 0">3 2 1</F>', '<F>1 2 10</F>', '<F i="1">1 2 77</F>', '<F>1 2 77</F>', '<F>1 2</F>', '<F>1 2 3 10</F>', '<F>a 2 3</F>', '<F>1<Feature/>2 3</F>', '<F i="1" n="0 0 0">1 2 3</F>', '<F>01 2 3</F>', '<!-- <Faces> -->', '<F i="1" i="1">1 2 3</F>', '<F b="&amp;">1 2 3</F>']; // prettier-ignore

describe('LandXML from its bytes', () => {
  it('is what the XML parser makes of it, however its lists are written', () => {
    const list = (of: string[]) => fc.array(fc.constantFrom(...of), { maxLength: 12 }).map((l) => l.join(''));
    fc.assert(
      fc.property(list([...PLAIN, ...PLAIN, ...PLAIN, ...ODD]), list(FACES), (points, faces) => {
        const { fast, slow } = both(surface(points, faces));
        expect(fast).toEqual(slow);
      }),
      { numRuns: 2000 },
    );
  });

  it('is what the XML parser makes of it, wherever it breaks off or is garbled', () => {
    const text = surface(PLAIN.join(''), FACES.join(''), '<Units><Metric linearUnit="meter"/></Units>');
    fc.assert(
      fc.property(fc.nat(text.length), fc.nat(text.length), fc.constantFrom('', '<', '>', '"', '<Pnts>', '</Pnts>', '<!--', ' ', '7', '\n'), (from, to, put) => {
        const [a, b] = [Math.min(from, to), Math.max(from, to)];
        const { fast, slow } = both(text.slice(0, a) + put + text.slice(b));
        expect(fast).toEqual(slow);
      }),
      { numRuns: 1500 },
    ); // prettier-ignore
  });

  it('tells the line of what is wrong behind a list', () => {
    const { fast, slow } = both(surface(`\n${PLAIN.join('\n')}\n\n`, '<F>1 2 3</F>\n<F>1 2 zz</F>'));
    expect(fast.problems).toEqual(slow.problems);
    expect(fast.problems[0]).toMatchObject({ line: 16, what: expect.stringContaining('zz') as string });
  });

  it.each([
    ['UTF-8 with a mark', '\ufeff', 'UTF-8', (t: string) => bytesOf(t)],
    ['ISO 8859-1', '', 'ISO-8859-1', (t: string) => Uint8Array.from(t, (c) => c.charCodeAt(0))],
    ['no declaration, bytes that are no UTF-8', '', '', (t: string) => Uint8Array.from(t, (c) => c.charCodeAt(0))],
    ['UTF-16', '\ufeff', 'UTF-16', (t: string) => new Uint8Array(Uint16Array.from(t, (c) => c.charCodeAt(0)).buffer)],
  ])('reads %s', (_, mark, encoding, written) => {
    const declaration = encoding ? `<?xml version="1.0" encoding="${encoding}"?>` : '';
    const bytes = written(`${mark}${declaration}<LandXML><CgPoints><CgPoint name="Brücke é">1 2 3</CgPoint></CgPoints></LandXML>`); // prettier-ignore
    expect(isLandXmlDrawing(bytes)).toBe(true);
    const { points, problems, whole } = readLandXmlBytes(bytes);
    expect(problems).toEqual([]);
    expect(whole).toBe(true);
    expect(points[0]).toMatchObject({ name: 'Brücke é', x: 2, y: 1, z: 3 });
  });

  it('has readings in it wherever an element says so, and not where a name only begins so', () => {
    const of = (body: string) => isLandXmlDrawing(bytesOf(`<LandXML>${body}</LandXML>`));
    expect(of('<CgPoints/>')).toBe(true);
    expect(of('<SurveyMonument/>')).toBe(true);
    expect(of('<Survey><InstrumentSetup/></Survey>')).toBe(false);
    expect(isLandXmlDrawing(bytesOf('<lx:LandXML xmlns:lx="urn:x"><lx:Survey /></lx:LandXML>'))).toBe(false);
  });
});
