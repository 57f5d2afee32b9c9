import fontkit from '@pdf-lib/fontkit';
import { runsOf, type FontFile } from './faces.ts';

// Letters inside a picture are drawn by their outlines: whatever lays out the paper opens fonts for pictures by file names, and
// knows nothing of a second font for letters that the first lacks.

interface Outlines {
  unitsPerEm: number;
  layout: (text: string) => { glyphs: { path: { toSVG: () => string }; advanceWidth: number }[] };
}

const opened = new Map<string, Outlines>();
function outlinesOf({ id, bytes }: FontFile): Outlines {
  let font = opened.get(id);
  if (!font) opened.set(id, (font = fontkit.create(bytes as never) as unknown as Outlines));
  return font;
}

const TEXT = /<text transform="([^"<]*)" font-size="([\d.]+)" fill="([^"<]*)">([^<]*)<\/text>/g;

const LETTER: Record<string, string> = { '&amp;': '&', '&lt;': '<', '&gt;': '>', '&quot;': '"' };
const unescaped = (text: string): string => text.replace(/&(amp|lt|gt|quot);/g, (c) => LETTER[c]);

/** A picture with its words as outlines. */
export const outlined = (svg: string): string =>
  svg.replace(TEXT, (_, transform: string, size: string, fill: string, words: string) => {
    const paths: string[] = [];
    let at = 0;
    for (const { file, text } of runsOf(unescaped(words), 'text')) {
      const font = outlinesOf(file);
      const scale = Number(size) / font.unitsPerEm;
      for (const glyph of font.layout(text).glyphs) {
        const d = glyph.path.toSVG();
        if (d) paths.push(`<path transform="translate(${at.toFixed(2)} 0) scale(${scale} ${-scale})" d="${d}" fill="${fill}"/>`); // prettier-ignore
        at += glyph.advanceWidth * scale;
      }
    }
    return `<g transform="${transform}">${paths.join('')}</g>`;
  });
