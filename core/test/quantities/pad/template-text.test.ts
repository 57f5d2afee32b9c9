import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readTemplate, templateText } from '#core/quantities';

describe('a template that is typed', () => {
  it('is places from left to right, in the unit of the project or in one that is typed', () => {
    expect(readTemplate('-3 -0,09; 0; 3 -0.09', 'm')).toEqual({ ok: true, template: [{ offset: -3, height: -0.09 }, { offset: 0, height: 0 }, { offset: 3, height: -0.09 }] }); // prettier-ignore
    expect(readTemplate('−10 0\n10 1', 'ft')).toEqual({ ok: true, template: [{ offset: expect.closeTo(-3.048, 12), height: 0 }, { offset: expect.closeTo(3.048, 12), height: expect.closeTo(0.3048, 12) }] }); // prettier-ignore
  });

  it.each([
    ['one place', '1 0', '2 to 50 places'],
    ['nothing', ' ; ', '2 to 50 places'],
    ['words', 'left 0; 1 0', '“left 0” is no place'],
    ['three numbers', '-1 0 5; 1 0', 'is no place'],
    ['from right to left', '1 0; -1 0', 'not farther to the right'],
    ['one offset twice', '1 0; 1 2', 'not farther to the right'],
  ])('of %s is refused, with what to type', (_, text, why) => {
    expect(readTemplate(text, 'm')).toMatchObject({ ok: false, reason: expect.stringContaining(why) });
  });

  it('is read as it is shown, to the millimetre or thousandth of a foot', () => {
    const place = fc.tuple(fc.integer({ min: 1, max: 5000 }), fc.integer({ min: -9000, max: 9000 }));
    fc.assert(
      fc.property(
        fc.array(place, { minLength: 2, maxLength: 12 }),
        fc.constantFrom('m', 'ft', 'usft'),
        (steps, unit) => {
          let offset = -10;
          const template = steps.map(([step, height]) => ({ offset: (offset += step / 1000), height: height / 1000 }));
          const read = readTemplate(templateText(template, unit), unit);
          if (!read.ok) throw new Error(read.reason);
          read.template.forEach((p, i) => {
            expect(Math.abs(p.offset - template[i].offset)).toBeLessThan(6e-4);
            expect(Math.abs(p.height - template[i].height)).toBeLessThan(6e-4);
          });
        },
      ),
    );
  });
});
