/** Units that follow a number in a sentence. */
const UNIT = '(?:US ft|yd³|ft²|ft³|ft|mm|km|m²|m³|m|ha|ac|%)';
const BEFORE_UNIT = new RegExp(`(\\d) (?=${UNIT}(?![\\w²³]))`, 'g');

/** A sentence in which no line ends within a number, or between it and its unit. */
export const unbroken = (text: string): string =>
  text.replace(/(\d)\u2009(?=\d)/g, '$1\u202f').replace(BEFORE_UNIT, '$1\u00a0');
