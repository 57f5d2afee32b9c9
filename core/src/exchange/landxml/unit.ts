import type { FileUnit } from '#core/measure';

/** The unit that a LandXML file's linearUnit means, or null where it is unknown. */
export function unitOfLandXml(linearUnit: string): FileUnit | null {
  if (/^met(er|re)$/i.test(linearUnit)) return 'm';
  if (/^foot$/i.test(linearUnit)) return 'ft';
  if (/^USSurveyFoot$/i.test(linearUnit)) return 'usft';
  if (/^millimet(er|re)$/i.test(linearUnit)) return 'mm';
  if (/^centimet(er|re)$/i.test(linearUnit)) return 'cm';
  if (/^inch$/i.test(linearUnit)) return 'in';
  return null;
}
