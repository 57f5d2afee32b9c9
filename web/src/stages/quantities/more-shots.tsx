import { useEffect, useState } from 'react';
import { csvTable, fileStem } from '#core/exchange';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { WITHIN_95, type SpacingPart } from '#core/quantities';
import { Act, Aside, Num } from '../../frame/controls.tsx';
import { saveText } from '../../frame/download.ts';
import { formatVolume, VOLUME_SIGN } from '../../frame/volume-text.ts';
import { useParts, useProject } from '../../project-state/store.ts';

/** Where more shots would help a volume most: on the drawing, and as a list to take to the site. */
export function MoreShots({ name, spacing: { wanted, after } }: { name: string; spacing: SpacingPart }) {
  const { state } = useParts('state');
  const { settings } = state!.document;
  const { unit, volumeUnit, order } = settings;
  const [shown, setShown] = useState(false);
  useEffect(() => {
    if (!shown) return;
    useProject.setState({ sketch: { places: Float64Array.from(wanted.flatMap((w) => [w.x, w.y])), mark: 'ring', arrows: [], about: 'where more shots would help most' } }); // prettier-ignore
    return () => useProject.setState({ sketch: null });
  }, [shown, wanted]);
  const save = (): void => {
    const plan = order === 'EN' ? ['East', 'North'] : ['North', 'East'];
    const rows = wanted.map((w, i) => [`S${i + 1}`, ...(order === 'EN' ? [w.x, w.y] : [w.y, w.x]).map((v) => formatLength(v, unit, 3).replace(/[\u2009\u202f]/g, ''))]); // prettier-ignore
    saveText(`${fileStem(state!.project.name, `${name} more shots`)}.csv`, csvTable([['Number', ...plan.map((p) => `${p} [${UNIT_SIGN[unit]}]`)], ...rows])); // prettier-ignore
  };
  return (
    <span>
      <Act height="22px" aria-pressed={shown} onClick={() => setShown(!shown)}>
        {shown ? 'Hide the places' : `Where ${wanted.length} more shots help most`}
      </Act>{' '}
      <Act look="quiet" height="22px" onClick={save}>
        as a list
      </Act>{' '}
      <Aside>
        with them the spacing part would be about ± <Num>{formatVolume(WITHIN_95 * after, settings)}</Num>{' '}
        {VOLUME_SIGN[volumeUnit]}.
      </Aside>
    </span>
  );
}
