import { isPublished } from '#core/basis';
import { type Coordinates } from '#core/handover';
import { type ProjectDocument } from '#core/project';

interface Way {
  value: string;
  name: string;
  coordinates: Coordinates;
  onlyText: boolean;
}

/** In which coordinates this project can go out. */
export function waysOut(doc: ProjectDocument): Way[] {
  const { basis } = doc;
  const published = isPublished(basis.system);
  const ways: Way[] = [
    {
      value: 'grid',
      name: isPublished(basis.system) ? `coordinates of ${basis.system.name}` : 'the project’s own coordinates',
      coordinates: { kind: 'grid' },
      onlyText: false,
    },
  ];
  if (basis.factor !== 1)
    ways.push({
      value: 'ground',
      name: `ground lengths about the base point, factor ${basis.factor}`,
      coordinates: { kind: 'ground' },
      onlyText: false,
    });
  if (published)
    ways.push({
      value: 'geographic',
      name: 'latitude and longitude on its datum',
      coordinates: { kind: 'geographic' },
      onlyText: true,
    });
  for (const i of doc.intakes)
    if (i.placement && i.on)
      ways.push({
        value: `local:${i.id}`,
        name: `the local coordinates of ${i.fileName}`,
        coordinates: { kind: 'local', intake: i.id },
        onlyText: false,
      });
  return ways;
}
