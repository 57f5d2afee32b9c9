import { CUBIC_METRES_IN_CUBIC_YARD, formatArea, formatFixed } from '#core/measure';
import type { ProjectDocument } from '#core/project';
import { column, type ReportColumn } from './table.ts';

// How volumes and areas stand in reports.

export const areaOf = ({ settings }: ProjectDocument) => (m2: number): string => formatArea(m2, settings.areaUnit, settings.unit); // prettier-ignore
export const cubic = (m3: number): string => formatFixed(m3, 1);
export const VOLUME = (name: string, share = 14): ReportColumn => column(name, 'number', share, 'm³');
export const YARDS = (name: string, share = 14): ReportColumn => column(name, 'number', share, 'yd³');
export const yards = (m3: number): string => formatFixed(m3 / CUBIC_METRES_IN_CUBIC_YARD, 1);
