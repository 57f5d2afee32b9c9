import { ZONE_ROUNDING, type ZoneVolumes } from '#core/quantities';

export const zonesText = ({ zones, outside }: ZoneVolumes, whole: number): string[] => [
  ...zones.map((z) => `${z.name}: ${z.area > 0 ? `cut ${z.cut.toFixed(3)} m³, fill ${z.fill.toFixed(3)} m³, cut − fill ${z.net.toFixed(3)} m³ on ${z.area.toFixed(3)} m²` : 'nothing that is compared lies in it'}`), // prettier-ignore
  ...(outside.area > ZONE_ROUNDING * whole ? [`in no zone: cut ${outside.cut.toFixed(3)} m³, fill ${outside.fill.toFixed(3)} m³ on ${outside.area.toFixed(3)} m²`] : []), // prettier-ignore
  ...(outside.area < -ZONE_ROUNDING * whole ? [`zones lie over each other, by ${(-outside.area).toFixed(3)} m² at least: they do not add up`] : []), // prettier-ignore
];
