// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { readLandXmlBytes, sectionTableOfLandXml } from '#core/exchange';
import { SectionsFromFile } from '../../../src/stages/quantities/by-hand/sections-from-file.tsx';
import { draw } from '../../drawn.tsx';

vi.mock('../../../src/work/workers.ts', () => ({
  sheetWork: () => ({ sectionTable: (bytes: Uint8Array) => sectionTableOfLandXml(readLandXmlBytes(bytes)) }),
}));

const surface = (name: string): string => `<CrossSectSurf name="${name}"><PntList2D>-5 1 5 1</PntList2D></CrossSectSurf>`; // prettier-ignore
const fileOf = (names: readonly string[]): File => {
  const text = `<LandXML version="1.2"><Units><Metric linearUnit="meter"/></Units><Alignments><Alignment name="A" length="9" staStart="0"><CrossSects><CrossSect sta="0">${names.map(surface).join('')}</CrossSect></CrossSects></Alignment></Alignments></LandXML>`;
  // jsdom's own File has no arrayBuffer.
  return Object.assign(new File([text], 'sections.xml'), {
    arrayBuffer: () => Promise.resolve(new TextEncoder().encode(text).buffer),
  });
};

describe('sections from a LandXML file', () => {
  it('fill the table, and say which surface was taken for the ground', async () => {
    const taken = vi.fn();
    draw(<SectionsFromFile onTable={taken} />);
    await userEvent.upload(
      screen.getByLabelText('file with cross sections, LandXML or DXF'),
      fileOf(['proposed', 'existing']),
    );
    await waitFor(() => expect(taken).toHaveBeenCalledOnce());
    expect(taken.mock.calls[0][0]).toMatchObject({ text: '0\t-5\t1\t1\n0\t5\t1\t1', unit: 'm' });
    expect(screen.getByRole('status').textContent).toBe('1 section of “existing” as ground and “proposed” as design.');
  });

  it('of one surface fill nothing, in a sentence', async () => {
    const taken = vi.fn();
    draw(<SectionsFromFile onTable={taken} />);
    await userEvent.upload(screen.getByLabelText('file with cross sections, LandXML or DXF'), fileOf(['existing']));
    await waitFor(() => expect(screen.getByRole('status').textContent).toContain('one surface, “existing”'));
    expect(taken).not.toHaveBeenCalled();
  });
});
