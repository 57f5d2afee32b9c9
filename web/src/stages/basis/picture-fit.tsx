import { Box, Flex } from '@chakra-ui/react';
import { useEffect, useMemo, useState } from 'react';
import { formatLength, readLength, UNIT_SIGN } from '#core/measure';
import {
  FEWEST_MARKS,
  fitPicture,
  invertProjective,
  PICTURE_FITS,
  placeOf,
  scaledByLength,
  type PictureFitKind,
  type Projective,
} from '#core/pictures';
import type { Picture, PictureMarkKept } from '#core/project';
import { Act, Aside, Field, Num, Pick } from '../../frame/controls.tsx';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { keyOf } from '../../project-state/edit.ts';
import { movedMarks } from './moved-marks.ts';
import { usePictureDraft } from '../../project-state/picture-draft.ts';
import type { Snapped } from '../../project-state/snap.ts';
import { useParts, useProject } from '../../project-state/store.ts';

const FIT_NAME: Record<PictureFitKind, string> = {
  similarity: 'shift, rotation, one scale',
  affine: 'affine: two scales and a shear',
  projective: 'projective: seen at a slant',
};

/** Arrows of residuals on the drawing are so many times as long. */
const LONGER = 20;

/** A picture fitted by marks, or brought to scale by a length; it follows on the drawing, and is kept when applied. */
export function PictureFit({ picture, onDone }: { picture: Picture; onDone: () => void }) {
  const { make, busy, state, tables, traced, trace, tell } = useParts('make', 'busy', 'state', 'tables', 'traced', 'trace', 'tell'); // prettier-ignore
  const { show } = usePictureDraft();
  const { unit, order } = state!.document.settings;
  const sign = UNIT_SIGN[unit];
  const kept = picture.placed.by === 'marks' ? picture.placed : null;
  const [kind, setKind] = useState<PictureFitKind>(kept?.kind ?? 'similarity');
  const [marks, setMarks] = useState<readonly PictureMarkKept[]>(kept?.marks ?? []);
  /** A mark whose place is being asked for, pixels. */
  const [begun, setBegun] = useState<[number, number] | null>(null);
  const asked = traced ? begun : null;
  const [scaled, setScaled] = useState<Pick<Picture, 'matrix' | 'placed'> | null>(null);
  const fitted = useMemo(() => fitPicture(marks, kind, picture), [marks, kind, picture]);
  const moved = useMemo(
    () => movedMarks(marks, state!.document, tables!).filter(({ now }) => now),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- points move with the tables
    [marks, tables],
  );
  const placed = useMemo((): Pick<Picture, 'matrix' | 'placed'> => {
    if (marks.length && fitted.ok) {
      const { matrix, sigma } = fitted.fit;
      return { matrix, placed: { by: 'marks', kind, marks: [...marks], sigma: Number.isNaN(sigma) ? null : sigma } };
    }
    return scaled ?? { matrix: picture.matrix, placed: picture.placed };
  }, [marks, kind, fitted, scaled, picture]);
  const matrix = placed.matrix as Projective;
  const isChanged = placed.placed !== picture.placed && JSON.stringify(placed) !== JSON.stringify({ matrix: picture.matrix, placed: picture.placed }); // prettier-ignore

  useEffect(() => {
    show({ ...picture, ...placed });
  }, [picture, placed, show]);
  useEffect(() => () => show(null), [show]);
  useEffect(() => {
    const at = marks.map((m) => placeOf(matrix, m.column, m.row));
    const seen = asked ? [...at, placeOf(matrix, ...asked)] : at;
    useProject.setState({
      sketch: seen.length
        ? {
            about: 'marks of a picture',
            places: Float64Array.from(seen.flatMap((p) => [p.x, p.y])),
            mark: 'ring',
            arrows: fitted.ok
              ? marks.map((m, i) => [m.x, m.y, m.x + LONGER * (at[i].x - m.x), m.y + LONGER * (at[i].y - m.y)])
              : marks.map((m, i) => [at[i].x, at[i].y, m.x, m.y]),
          }
        : null,
    });
  }, [marks, matrix, fitted, asked]);
  // What was asked for on the drawing is asked for no more.
  useEffect(() => () => useProject.setState({ sketch: null, traced: null }), []);

  const point = (purpose: string, free: boolean, then: (place: Snapped) => void): void =>
    trace({ purpose, places: [], finish: () => {}, course: { most: 1, free, finish: ([place]) => then(place) } });
  const pixelAt = ({ x, y }: Snapped): [number, number] => {
    const at = placeOf(invertProjective(matrix)!, x, y);
    return [at.x, at.y].map((v) => Math.round(v * 1000) / 1000) as [number, number];
  };
  const markOf = ([column, row]: readonly [number, number], to: Snapped): PictureMarkKept => {
    const key = to.by === 'point' ? keyOf(state!.document, tables!, to.row) : null;
    return {
      column,
      row,
      x: to.x,
      y: to.y,
      on: true,
      point: key === null ? null : { key, number: tables!.points.number.get(to.row) },
    };
  };
  const addMark = (): void =>
    point('a mark on the picture', true, (on) => {
      const pixel = pixelAt(on);
      if (pixel[0] < 0 || pixel[1] < 0 || pixel[0] > picture.width || pixel[1] > picture.height)
        return tell('That is beside the picture. A mark is a place on it that is known in the project.');
      setBegun(pixel);
      point('where it is: a point or a line’s end, or type its coordinates', false, (to) =>
        setMarks((all) => [...all, markOf(pixel, to)]),
      );
    });

  const columns: SmallColumn<{ mark: PictureMarkKept; i: number }>[] = [
    { id: 'point', head: 'Mark', cell: ({ mark, i }) => <Num>{mark.point?.number || `place ${i + 1}`}</Num> },
    {
      id: 'on',
      head: 'used',
      cell: ({ mark, i }) => (
        <input
          type="checkbox"
          aria-label={`mark ${i + 1} takes part`}
          checked={mark.on}
          onChange={(e) => setMarks(marks.map((m, k) => (k === i ? { ...m, on: e.target.checked } : m)))}
        />
      ),
    },
    ...(order === 'EN' ? (['x', 'y'] as const) : (['y', 'x'] as const)).map(
      (of): SmallColumn<{ mark: PictureMarkKept; i: number }> => ({
        id: of,
        head: `v ${of === 'x' ? 'east' : 'north'} ${sign}`,
        cell: ({ i }) => <Num>{fitted.ok ? formatLength(fitted.fit.residuals[i][of], unit, 3) : '–'}</Num>,
      }),
    ),
    {
      id: 'apart',
      head: `apart ${sign}`,
      title: 'how far it is from where the other marks put it',
      cell: ({ i }) => {
        const apart = fitted.ok ? fitted.fit.residuals[i].apart : NaN;
        return <Num>{Number.isNaN(apart) ? '–' : formatLength(apart, unit, 3)}</Num>;
      },
    },
    {
      id: 'delete',
      head: '',
      cell: ({ i }) => (
        <Act look="quiet" aria-label={`delete mark ${i + 1}`} onClick={() => setMarks(marks.filter((_, k) => k !== i))}>
          ×
        </Act>
      ),
    },
  ];

  return (
    <Flex direction="column" gap="8px" mt="8px" role="group" aria-label={`fit of ${picture.name}`}>
      <Flex gap="8px" align="center" wrap="wrap">
        <Act onClick={addMark}>Add a mark</Act>
        <Pick
          aria-label="how the picture is fitted"
          value={kind}
          onChange={(e) => setKind(e.target.value as PictureFitKind)}
        >
          {PICTURE_FITS.map((k) => (
            <option key={k} value={k}>
              {FIT_NAME[k]}, {FEWEST_MARKS[k]} marks
            </option>
          ))}
        </Pick>
      </Flex>
      {marks.length ? (
        <SmallTable
          label="marks"
          columns={columns}
          rows={marks.map((mark, i) => ({ mark, i }))}
          rowKey={({ i }) => `${i}`}
        />
      ) : (
        <KnownLengthForm
          picture={picture}
          onLine={(then) =>
            trace({
              purpose: 'both ends of the known length',
              places: [],
              finish: () => {},
              course: { most: 2, free: true, finish: ([a, b]) => then(pixelAt(a), pixelAt(b)) },
            })
          }
          onScaled={(from, to, length) => {
            const next = scaledByLength(matrix, { from, to, length });
            if (!next) return tell('Both ends are one place: nothing can be scaled by them.');
            setScaled({ matrix: next, placed: { by: 'length', from, to, length } });
          }}
        />
      )}
      {moved.length ? (
        <Box>
          <Act onClick={() => setMarks(marks.map((m) => ({ ...m, ...moved.find(({ mark }) => mark === m)?.now })))}>
            Take its points as they are now
          </Act>
        </Box>
      ) : null}
      {marks.length ? <FitSaid fitted={fitted} unit={unit} /> : null}
      <Flex gap="8px">
        <Act
          look="solid"
          disabled={busy || !isChanged || (marks.length > 0 && !fitted.ok)}
          onClick={() =>
            void make({ op: 'picture.set', id: picture.id, picture: { ...picture, ...placed } }).then(
              (done) => done && onDone(),
            )
          }
        >
          Apply
        </Act>
        <Act onClick={onDone}>Cancel</Act>
      </Flex>
    </Flex>
  );
}

function FitSaid({
  fitted,
  unit,
}: {
  fitted: ReturnType<typeof fitPicture>;
  unit: Parameters<typeof formatLength>[1];
}) {
  if (!fitted.ok) return <Box color="slate">{fitted.reason}</Box>;
  const { sigma, redundancy, isMirrored, pixel } = fitted.fit;
  const sign = UNIT_SIGN[unit];
  const length = (metres: number): string => `${formatLength(metres, unit, 3)} ${sign}`;
  return (
    <Box>
      {redundancy === 0 ? 'No redundancy: one mark more shows whether they agree.' : `Standard deviation of a coordinate ${length(sigma)}, redundancy ${redundancy}.`}{' '}
      A pixel is {length(pixel.across)} × {length(pixel.down)} in the middle.
      {isMirrored ? <Box color="brass">So it is seen from behind: left and right are swapped.</Box> : null}
    </Box>
  ); // prettier-ignore
}

interface KnownLengthProps {
  picture: Picture;
  /** Asks for both ends on the drawing, pixels of the picture. */
  onLine: (then: (from: [number, number], to: [number, number]) => void) => void;
  onScaled: (from: [number, number], to: [number, number], length: number) => void;
}

/** Two places on the picture and how long it is between them. */
function KnownLengthForm({ picture, onLine, onScaled }: KnownLengthProps) {
  const { state, tell } = useParts('state', 'tell');
  const { unit } = state!.document.settings;
  const before = picture.placed.by === 'length' ? picture.placed : null;
  const [ends, setEnds] = useState<readonly [[number, number], [number, number]] | null>(
    before && [before.from, before.to],
  );
  const [typed, setTyped] = useState(before ? formatLength(before.length, unit, 3) : '');
  const scale = (): void => {
    const read = readLength(typed, unit);
    if (!read.ok) return tell(read.reason);
    if (!(read.metres > 0)) return tell('A length is more than 0.');
    if (ends) onScaled(...ends, read.metres);
  };
  return (
    <Flex
      as="form"
      gap="8px"
      align="center"
      wrap="wrap"
      onSubmit={(e) => {
        e.preventDefault();
        scale();
      }}
    >
      <Aside>or by a known length:</Aside>
      <Act type="button" onClick={() => onLine((from, to) => setEnds([from, to]))}>
        {ends ? 'Point at its ends again' : 'Point at its ends'}
      </Act>
      <Field
        width="110px"
        numeric
        aria-label={`known length ${UNIT_SIGN[unit]}`}
        placeholder={`length ${UNIT_SIGN[unit]}`}
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
      />
      <Act type="submit" disabled={!ends || !typed}>
        Bring to scale
      </Act>
    </Flex>
  );
}
