import type { Code } from '#core/codes';
import { layerName, NO_ELEVATION, PLAN_SUFFIX } from '#core/exchange';
import { layerOf, pointLayerOf } from '#core/linework';
import type { ProjectDocument } from '#core/project';

/** Codes of a kind whose things lie on a layer of a drawing of ours, as either version of it writes its name. */
export function codesOnLayer(doc: ProjectDocument, layer: string, kind: Code['kind']): Code[] {
  const own = withoutEnd(withoutEnd(layer, NO_ELEVATION), PLAN_SUFFIX).toUpperCase();
  const of = kind === 'point' ? pointLayerOf : layerOf;
  return doc.codeList.codes.filter((c) => c.kind === kind && [layerName(of(c), true), layerName(of(c))].includes(own));
}

const withoutEnd = (text: string, end: string): string => (text.endsWith(end) ? text.slice(0, -end.length) : text);
