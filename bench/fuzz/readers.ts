import { readGtx, readNtv2, statedSizesProblem } from '#core/basis';
import { guessBookLayout, readBookText } from '#core/book';
import { newDocument, plainIntake } from '#core/project';
import { readByPlan, readingPlan } from '#core/sources';
import { asDrawing, bookFormOf, decodeText, guessLayout, linesIn, partOfDrawing, readBookFile, readCodeTable, readDxf, readGeoJson, readLandXml, readLandXmlBytes, readLandXmlSurvey, readPoints, readSpreadsheet, readTextGrid, readTiffGrid, rowsOfFile, sampleRows } from '#core/exchange'; // prettier-ignore

const context = {
  fileName: 'f',
  unit: 'm' as const,
  near: [],
  order: 'EN' as const,
  knownCodes: new Set(['GR', 'KT']),
};

/** Every reader there is, on one file's bytes: as what it is, and as what it is not. Nothing may throw. */
export async function readByAll(bytes: Uint8Array): Promise<void> {
  const decoded = decodeText(bytes);
  // What is no text by its bytes is read as some all the same: a reader does not rely on who calls it.
  const text = decoded.ok ? decoded.text : new TextDecoder('latin1').decode(bytes);
  const rows = rowsOfFile(bytes);
  const sample = sampleRows(rows.ok ? rows.text : text);
  const { layout } = guessLayout(sample, context);
  const guessed = guessBookLayout(sample).layout;
  readPoints(rows.ok ? rows.text : text, layout);
  const [tin] = rows.ok ? (rows.surfaces ?? []) : [];
  // A ready-made surface goes the whole way to triangles.
  if (tin) {
    const asSurface = { ...layout, surface: tin.name };
    await readByPlan(bytes, readingPlan(newDocument().basis, plainIntake('i', { layout: asSurface })), {});
  }
  readBookText(text);
  readBookFile(text, guessed);
  bookFormOf(text);
  readDxf(text);
  const drawing = { kind: 'dxf' as const, content: readDxf(bytes), unit: null };
  linesIn(partOfDrawing(drawing, { blocks: true }).file);
  readLandXml(text);
  const landXml = asDrawing({ kind: 'landxml', content: readLandXmlBytes(bytes), unit: 'm' })!;
  linesIn(partOfDrawing(landXml, {}).file);
  readTiffGrid(bytes);
  readTextGrid(text);
  readLandXmlSurvey(text);
  readGeoJson(text);
  readCodeTable(text);
  readSpreadsheet(bytes);
  readGtx(bytes);
  readNtv2(bytes);
  statedSizesProblem(bytes);
  // The way that a received file goes in.
  await readByPlan(bytes, readingPlan(newDocument().basis, plainIntake('i', { layout })), {});
  await readByPlan(
    bytes,
    readingPlan(newDocument().basis, plainIntake('i', { form: 'book', bookLayout: guessed })),
    {},
  );
}
