export * from './text/decode.ts';
export * from './text/layout.ts';
export * from './text/guess.ts';
export * from './text/headings.ts';
export * from './text/sample.ts';
export * from './text/read.ts';
export * from './text/write.ts';
export { csvTable } from './text/cell.ts';
export * from './file-name.ts';
export * from './text/none.ts';
export * from './dxf/write.ts';
export * from './dxf/drawing.ts';
export { hasNumbers, unescaped } from './dxf/text.ts';
export { layerAt, layerName, NO_ELEVATION } from './dxf/layer-name.ts';
export type { DrawnInsert, SymbolBlock } from './dxf/blocks.ts';
export * from './dxf/content.ts';
export * from './dxf/own.ts';
export * from './dxf/read.ts';
export * from './dxf/tally.ts';
export { emptyLayers, type EmptyLayers } from './dxf/empty-layers.ts';
export { placedBlocks } from './dxf/placed-blocks.ts';
export * from './landxml/write.ts';
export { readLandXml } from './landxml/read.ts';
export { sectionTableOfDxf, sectionTableOfLandXml, type SectionTable } from './section-table.ts';
export * from './landxml/content.ts';
export * from './landxml/bytes.ts';
export * from './landxml/recognise.ts';
export * from './landxml/surface.ts';
export { unitOfLandXml } from './landxml/unit.ts';
export * from './landxml/survey-read.ts';
export * from './landxml/survey-write.ts';
export * from './geojson/geojson.ts';
export * from './clean/clean.ts';
export * from './content.ts';
export { isShapefilePart, packShapefile, shapefileStem } from './shapefile/parts.ts';
export * from './first-lines.ts';
export { asPolyline, DRAWN_WORDS, drawnElevation, linesIn } from './drawn-lines.ts';
export { sidesOfRows } from './sides-of-rows.ts';
export { partOfDrawing, tallyOf, type DrawingTable } from './drawing-part.ts';
export * from './taken.ts';
export type { Footprints } from './footprints.ts';
export * from './drawing-choice.ts';
export * from './codes-of-drawing.ts';
export * from './format.ts';
export * from './compare/compare.ts';
export { extentOfThings, thingsOf, type Thing } from './compare/things.ts';
export * from './tabular.ts';
export * from './tabular-file.ts';
export {
  elevationsFromTexts,
  numberInName,
  writtenNumbers,
  WRITTEN_WHERE,
  type WrittenWhere,
} from './written-elevations.ts';
export * from './code-table.ts';
export * from './book-file.ts';
export * from './spreadsheet.ts';
export * from './received.ts';
export { writeGeoTiff } from './raster/geotiff.ts';
export { writeGlb } from './gltf/write-glb.ts';
export { asDrawing } from './rows.ts';
export { sidesOfUnderlay, UNDER, type Underlay } from './underlay.ts';
export { withoutUnderlay } from './underlay-rows.ts';
export { extentOfGrid, spacingOf, type GridFacts } from './grid/elevation-grid.ts';
export { isTiffGrid, readTiffGrid } from './grid/tiff-grid.ts';
export { isTextGrid, readTextGrid } from './grid/text-grid.ts';
