import { Box, chakra, Flex } from '@chakra-ui/react';
import { useMemo, useState } from 'react';
import type { LengthUnit } from '#core/measure';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { placeOf } from '#core/pictures';
import type { Picture } from '#core/project';
import { Act, Aside, Cut, Leaf, Num } from '../../frame/controls.tsx';
import { useAt } from '../../frame/leaves.tsx';
import { Empty } from '../../frame/ledger.tsx';
import { useCanChange } from '../../project-state/can.ts';
import { Changing, InPlace } from '../../project-state/changing.tsx';
import { usePictureDraft } from '../../project-state/picture-draft.ts';
import { useParts } from '../../project-state/store.ts';
import { fitTo } from '../../sheet/picture/fit-to.ts';
import { movedMarks } from './moved-marks.ts';
import { PictureFit } from './picture-fit.tsx';

/** Pictures under the drawing, the uppermost first: how each is seen, where its place comes from, and its fit. */
export function Pictures({ onTakeIn }: { onTakeIn: () => void }) {
  const { state } = useParts('state');
  const { pictures, settings } = state!.document;
  const [at, setAt] = useAt();
  if (pictures.length === 0)
    return (
      <Empty>
        A scan, a photograph or a page of a PDF can lie under the drawing: PNG, JPEG, TIFF or PDF. It is fitted by marks
        to points, brought to scale by a known length, or placed by its world file.{' '}
        <Changing>
          <Act onClick={onTakeIn}>Import a picture …</Act>
        </Changing>
      </Empty>
    );
  return (
    <Box flex="1" minHeight="0" overflow="auto">
      <chakra.ul m="0" p="0" listStyleType="none" aria-label="pictures">
        {pictures
          .map((picture, rank) => ({ picture, rank }))
          .reverse()
          .map(({ picture, rank }) => (
            <li key={picture.id} aria-current={picture.id === at || undefined}>
              <PictureRow
                picture={picture}
                rank={rank}
                most={pictures.length - 1}
                unit={settings.unit}
                isOpen={picture.id === at}
                onOpen={(open) => setAt(open ? picture.id : null)}
              />
            </li>
          ))}
      </chakra.ul>
      <Changing>
        <Act onClick={onTakeIn}>Import a picture …</Act>
      </Changing>
    </Box>
  );
}

interface RowProps {
  picture: Picture;
  rank: number;
  most: number;
  unit: LengthUnit;
  isOpen: boolean;
  onOpen: (open: boolean) => void;
}

function PictureRow({ picture, rank, most, unit, isOpen, onOpen }: RowProps) {
  const { make, busy } = useParts('make', 'busy');
  const canChange = useCanChange();
  const { missing } = usePictureDraft();
  const { id, name } = picture;
  const put = (part: Partial<Picture>, to?: number): void =>
    void make({ op: 'picture.set', id, picture: { ...picture, ...part }, ...(to === undefined ? {} : { at: to }) });
  return (
    <Leaf mb="8px" p="6px 12px 8px">
      <Flex gap="10px" align="center">
        <Cut fontWeight="600">{name}</Cut>
        <Box flex="1" />
        <Changing>
          <Act aria-expanded={isOpen} aria-label={`fit ${name}`} onClick={() => onOpen(!isOpen)}>
            Fit …
          </Act>
        </Changing>
        <Act look="quiet" aria-label={`show all of ${name}`} onClick={() => fitTo(picture.matrix, picture)}>
          Show
        </Act>
        <Changing>
          <Act
            look="quiet"
            aria-label={`raise ${name}`}
            disabled={busy || rank === most}
            onClick={() => put({}, rank + 1)}
          >
            ↑
          </Act>
          <Act
            look="quiet"
            aria-label={`lower ${name}`}
            disabled={busy || rank === 0}
            onClick={() => put({}, rank - 1)}
          >
            ↓
          </Act>
          <Act
            look="quiet"
            aria-label={`delete ${name}`}
            disabled={busy}
            onClick={() => void make({ op: 'picture.set', id, picture: null })}
          >
            ×
          </Act>
        </Changing>
      </Flex>
      <Box>
        <PlacedBy picture={picture} unit={unit} />
      </Box>
      <Moved picture={picture} unit={unit} />
      {missing.includes(id) ? (
        <Box role="alert" color="pole">
          {picture.fileName} cannot be shown here. Fetch it under Originals and look whether it opens.
        </Box>
      ) : null}
      <InPlace>
        <Flex gap="14px" align="center" wrap="wrap" fontSize="13px" mt="2px">
          <chakra.label display="inline-flex" gap="5px" alignItems="center">
            <input type="checkbox" checked={picture.hidden} onChange={(e) => put({ hidden: e.target.checked })} />
            hidden
          </chakra.label>
          <Slider
            name="transparency"
            of={name}
            value={Math.round((1 - picture.opacity) * 100)}
            least={0}
            onLook={(v) => ({ opacity: 1 - v / 100 })}
            picture={picture}
            put={put}
            isFitted={isOpen}
          />
          <Slider
            name="brightness"
            of={name}
            value={Math.round(picture.brightness * 100)}
            least={-100}
            onLook={(v) => ({ brightness: v / 100 })}
            picture={picture}
            put={put}
            isFitted={isOpen}
          />
        </Flex>
      </InPlace>
      {isOpen && canChange ? <PictureFit key={id} picture={picture} onDone={() => onOpen(false)} /> : null}
    </Leaf>
  );
}

/** Points that a picture was fitted to and that have moved since. */
function Moved({ picture, unit }: { picture: Picture; unit: LengthUnit }) {
  const { state, tables } = useParts('state', 'tables');
  const { placed } = picture;
  const moved = useMemo(
    () => (placed.by === 'marks' ? movedMarks(placed.marks, state!.document, tables!) : []),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- points move with the tables
    [placed, tables],
  );
  if (moved.length === 0) return null;
  const said = moved.slice(0, 4).map(({ mark, by }) => `${mark.point!.number || 'a point without a number'} ${Number.isNaN(by) ? 'is gone' : `by ${formatLength(by, unit, 3)} ${UNIT_SIGN[unit]}`}`); // prettier-ignore
  return (
    <Box color="brass">
      Moved since it was fitted: {said.join(', ')}
      {moved.length > said.length ? ` and ${moved.length - said.length} more` : ''}.
    </Box>
  );
}

interface SliderProps {
  name: string;
  of: string;
  /** Percent. */
  value: number;
  least: number;
  onLook: (value: number) => Partial<Picture>;
  picture: Picture;
  put: (part: Partial<Picture>) => void;
  /** Somebody fits it: how it would lie stays in view. */
  isFitted: boolean;
}

/** Followed by the drawing while it is moved, kept when it is let go. */
function Slider({ name, of, value, least, onLook, picture, put, isFitted }: SliderProps) {
  const { show, draft } = usePictureDraft();
  const [moved, setMoved] = useState<number | null>(null);
  const now = moved ?? value;
  const keep = (): void => {
    if (moved !== null && moved !== value) put(onLook(moved));
    setMoved(null);
    if (draft?.id === picture.id && !isFitted) show(null);
  };
  return (
    <chakra.label display="inline-flex" gap="6px" alignItems="center">
      {name}
      <chakra.input
        type="range"
        width="84px"
        accentColor="ink"
        min={least}
        max={100}
        step={5}
        value={now}
        aria-label={`${name} of ${of}`}
        onChange={(e) => {
          const next = Number(e.target.value);
          setMoved(next);
          show({ ...(draft?.id === picture.id ? draft : picture), ...onLook(next) });
        }}
        onPointerUp={keep}
        onKeyUp={keep}
        onBlur={keep}
      />
      <Num minWidth="44px">{now} %</Num>
    </chakra.label>
  );
}

/** Where a picture's place comes from, and how large its pixels are. */
function PlacedBy({ picture, unit }: { picture: Picture; unit: LengthUnit }) {
  const { placed, matrix, width, height } = picture;
  const [c, r] = [width / 2, height / 2];
  const [a, b] = [placeOf(matrix, c, r), placeOf(matrix, c + 1, r)];
  const pixel = `a pixel is ${formatLength(Math.hypot(b.x - a.x, b.y - a.y), unit, 3)} ${UNIT_SIGN[unit]}`;
  switch (placed.by) {
    case 'view':
      return <Box color="brass">not to scale: nobody has said where it is</Box>;
    case 'file':
      return (
        <Aside>
          placed by {placed.name}; {pixel}
        </Aside>
      );
    case 'length':
      return (
        <Aside>
          to scale by a length of {formatLength(placed.length, unit, 3)} {UNIT_SIGN[unit]}; {pixel}
        </Aside>
      );
    case 'marks': {
      const used = placed.marks.filter((m) => m.on).length;
      const sd = placed.sigma === null ? 'no redundancy' : `s ${formatLength(placed.sigma, unit, 3)} ${UNIT_SIGN[unit]}`; // prettier-ignore
      return (
        <Aside>
          fitted by {used} marks, {placed.kind}, {sd}; {pixel} in the middle
        </Aside>
      );
    }
  }
}
