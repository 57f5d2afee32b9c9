import { MODEL_SPACE, PAPER_SPACE, type DxfOut } from './out.ts';

// Layouts of the newer version: model and paper each have a record that says what is shown (DXF reference, LAYOUT).

const LAYOUTS = '1A';
const MODEL_LAYOUT = '22';
const PAPER_LAYOUT = '1E';

/** The layout that a space's block record belongs to. */
export const layoutOf = (space: string): string => (space === MODEL_SPACE ? MODEL_LAYOUT : PAPER_LAYOUT);

/** Dictionaries and the two layouts, as the OBJECTS section. */
export function writeObjects(to: DxfOut): void {
  to.tag(0, 'SECTION', 2, 'OBJECTS');
  to.tag(0, 'DICTIONARY', 5, 'C', 330, 0, 100, 'AcDbDictionary', 281, 1);
  to.tag(3, 'ACAD_GROUP', 350, 'D', 3, 'ACAD_LAYOUT', 350, LAYOUTS);
  to.tag(0, 'DICTIONARY', 5, 'D', 330, 'C', 100, 'AcDbDictionary', 281, 1);
  to.tag(0, 'DICTIONARY', 5, LAYOUTS, 330, 'C', 100, 'AcDbDictionary', 281, 1);
  to.tag(3, 'Model', 350, MODEL_LAYOUT, 3, 'Layout1', 350, PAPER_LAYOUT);
  layout(to, 'Model', MODEL_LAYOUT, MODEL_SPACE, 0);
  layout(to, 'Layout1', PAPER_LAYOUT, PAPER_SPACE, 1);
  to.tag(0, 'ENDSEC');
}

function layout(to: DxfOut, name: string, handle: string, space: string, order: number): void {
  to.tag(0, 'LAYOUT', 5, handle, 330, LAYOUTS, 100, 'AcDbPlotSettings', 1, '', 2, '', 4, '', 6, '');
  // Margins, paper, origin and window of plotting: nothing is set up; 1 : 1, as displayed.
  to.tag(40, '0.0', 41, '0.0', 42, '0.0', 43, '0.0', 44, '0.0', 45, '0.0', 46, '0.0', 47, '0.0', 48, '0.0', 49, '0.0');
  to.tag(
    140,
    '0.0',
    141,
    '0.0',
    142,
    '1.0',
    143,
    '1.0',
    70,
    order === 0 ? 1712 : 688,
    72,
    1,
    73,
    0,
    74,
    5,
    7,
    '',
    75,
    16,
  );
  to.tag(147, '1.0', 148, '0.0', 149, '0.0');
  to.tag(100, 'AcDbLayout', 1, name, 70, 1, 71, order, 10, '0.0', 20, '0.0', 11, '420.0', 21, '297.0');
  to.tag(
    12,
    '0.0',
    22,
    '0.0',
    32,
    '0.0',
    14,
    '0.0',
    24,
    '0.0',
    34,
    '0.0',
    15,
    '420.0',
    25,
    '297.0',
    35,
    '0.0',
    146,
    '0.0',
  );
  to.tag(13, '0.0', 23, '0.0', 33, '0.0', 16, '1.0', 26, '0.0', 36, '0.0', 17, '0.0', 27, '1.0', 37, '0.0', 76, 0);
  to.tag(330, space);
}
