import { groundRecipe, type ProjectDocument, type SurfaceRecipe } from '#core/project';

const freshId = (): string => crypto.randomUUID().slice(0, 13);

/** A name that no surface has yet. */
export function freeName({ surfaces }: Pick<ProjectDocument, 'surfaces'>, base: string): string {
  const taken = new Set(surfaces.map((s) => s.name));
  let name = base;
  for (let i = 2; taken.has(name); i++) name = `${base} ${i}`;
  return name;
}

/** A surface to begin with: every survey file and its breaklines. */
export const newSurface = (doc: Pick<ProjectDocument, 'surfaces'>): SurfaceRecipe => ({
  ...groundRecipe({ id: freshId(), name: freeName(doc, 'New surface') }),
  role: 'other',
});

/** The same recipe under another name; what one of them changes leaves the other alone. */
export const copyOf = (doc: Pick<ProjectDocument, 'surfaces'>, recipe: SurfaceRecipe): SurfaceRecipe => ({
  ...structuredClone(recipe),
  id: freshId(),
  name: freeName(doc, `${recipe.name.slice(0, 100)} copy`),
  role: recipe.role === 'ground' ? 'other' : recipe.role,
});
