import { Box, Flex } from '@chakra-ui/react';
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { isPublished } from '#core/basis';
import { METRES_IN_FILE, UNIT_NAME, type FileUnit } from '#core/measure';
import { placedInView } from '#core/pictures';
import type { Picture } from '#core/project';
import { api, problemText } from '../frame/api.ts';
import { Act, Aside, Pick } from '../frame/controls.tsx';
import { Progress } from '../frame/progress.tsx';
import { fitTo } from '../sheet/picture/fit-to.ts';
import { usePictureDraft } from '../project-state/picture-draft.ts';
import { useParts } from '../project-state/store.ts';
import { sheetHandle } from '../sheet/handle.ts';
import { isElsewhere, placeSaid, unitOfPlace, type Place } from './picture-place.ts';
import { IntakeHead } from './intake-head.tsx';
import { MOST_BYTES } from './most-bytes.ts';
import type { OpenedPicture } from '../work/picture/opened.ts';
import { startPictureWork } from '../work/workers.ts';

/** What the drawing shows before it has anything, m. */
const NO_VIEW = [0, 0, 100, 100] as const;

/** A picture before it is imported: what it is, where it says that it is, and how it would lie on the drawing. */
export function PictureIntake({ file, beside, onClose }: { file: File; beside: File | null; onClose: () => void }) {
  const { id, state, make } = useParts('id', 'state', 'make');
  const navigate = useNavigate();
  const { show } = usePictureDraft();
  const { settings, basis } = state!.document;
  const own = isPublished(basis.system) ? basis.system : null;
  const [opened, setOpened] = useState<OpenedPicture | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [page, setPage] = useState(1);
  const [world, setWorld] = useState<File | null>(beside);
  const [unit, setUnit] = useState<FileUnit>(() => unitOfPlace({ basis, settings }));
  const [place, setPlace] = useState<Place | null>(null);
  const [sending, setSending] = useState<number | null>(null);
  const key = useRef(crypto.randomUUID().slice(0, 13));
  const stop = useRef(new AbortController());
  const picker = useRef<HTMLInputElement>(null);

  useEffect(() => {
    let here = true;
    if (file.size > MOST_BYTES) return setProblem(`${file.name} has ${Math.round(file.size / 1048576)} MB; at most 256 MB are imported at once.`); // prettier-ignore
    const { work, end } = startPictureWork();
    void work.open(file).then((answer) => {
      if (!here) return;
      if ('problem' in answer) setProblem(`${file.name}: ${answer.problem}`);
      else setOpened(answer);
    });
    return () => {
      here = false;
      end();
    };
  }, [file]);

  const size = opened?.sizes[page - 1] ?? null;
  const elsewhere = opened !== null && isElsewhere(opened, basis);
  const asksUnit = world !== null || (opened !== null && opened.matrix !== null && !opened.isUnitSaid && !elsewhere);
  useEffect(() => {
    if (!opened || !size) return;
    let here = true;
    void (async () => {
      const said = await placeSaid(file.name, opened, world, unit, basis);
      if (!here) return;
      setProblem(said.problem);
      if (said.place) setPlace(said.place);
      else
        setPlace(
          (now) =>
          now?.placed.by === 'view' ? now : { matrix: placedInView(size, sheetHandle.current?.window() ?? NO_VIEW), placed: { by: 'view' } }, // prettier-ignore
        );
    })();
    return () => {
      here = false;
    };
  }, [opened, size, world, unit, file, basis]);

  const picture = (fileId: string, sha256: string): Picture | null =>
    place && size && {
      id: key.current,
      name: file.name.replace(/\.[^.]*$/, '') + (opened!.pages > 1 ? `, page ${page}` : ''),
      fileId,
      fileName: file.name,
      sha256,
      ...size,
      ...(opened!.kind === 'PDF' ? { page } : {}),
      ...place,
      opacity: 1,
      brightness: 0,
      hidden: false,
    }; // prettier-ignore
  useEffect(() => {
    show(picture(key.current, localKey(file)), file);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- drawn anew when it would lie elsewhere or be another page
  }, [place, size, page, file]);
  useEffect(() => () => show(null), [show]);
  useEffect(() => {
    if (place && place.placed.by === 'file' && size) fitTo(place.matrix, size);
  }, [place, size]);

  const accept = async (): Promise<void> => {
    setSending(0);
    try {
      const received = await api.upload(id, file, setSending, stop.current.signal);
      const made = await make({ op: 'picture.set', id: key.current, picture: picture(received.id, received.sha256)! });
      setSending(null);
      if (!made) return;
      onClose();
      void navigate(`/p/${id}/basis/pictures?at=${key.current}`);
    } catch (error) {
      setSending(null);
      stop.current = new AbortController();
      setProblem(problemText(error));
    }
  };

  return (
    <Flex as="section" direction="column" height="100%" minHeight="0" aria-label="intake">
      <IntakeHead
        name={file.name}
        onCancel={() => {
          stop.current.abort();
          onClose();
        }}
      />
      <Flex direction="column" gap="10px" flex="1" minHeight="0" overflow="auto" px="16px" pb="12px">
        {problem ? (
          <Box role="alert" color="pole">
            {problem}
          </Box>
        ) : null}
        {!opened && !problem ? <Box color="slate">unpacking the picture …</Box> : null}
        {opened && size ? (
          <>
            <Box>
              {opened.kind === 'PDF'
                ? `PDF, ${opened.pages} ${opened.pages === 1 ? 'page' : 'pages'}, `
                : `${opened.kind}, `}
              {size.width} × {size.height} pixels. It lies under the drawing.
            </Box>
            {opened.sizes.length > 1 ? (
              <Flex gap="8px" align="center">
                Page
                <Pick aria-label="page of the document" value={page} onChange={(e) => setPage(Number(e.target.value))}>
                  {opened.sizes.map((_, i) => (
                    <option key={i} value={i + 1}>
                      {i + 1}
                    </option>
                  ))}
                </Pick>
                {opened.pages > opened.sizes.length ? <Aside>of the first {opened.sizes.length}</Aside> : null}
              </Flex>
            ) : null}
            <PlaceSaid
              place={place}
              remark={
                elsewhere && !world
                  ? `It is in ${opened.system}, the project in ${own!.code}: a picture is not transformed from one to the other. Fit it by marks.`
                  : opened.remark
              }
            />
            <Flex gap="8px" align="center" wrap="wrap">
              <input
                ref={picker}
                type="file"
                hidden
                data-testid="world-file"
                onChange={(e) => {
                  setWorld(e.target.files?.[0] ?? null);
                  e.target.value = '';
                }}
              />
              {opened.kind === 'PDF' ? null : (
                <Act onClick={() => picker.current?.click()}>
                  {world ? 'Another world file …' : 'It has a world file …'}
                </Act>
              )}
              {asksUnit ? (
                <>
                  <Aside>{world ? `${world.name}, its numbers in` : 'its tags name no unit; read in'}</Aside>
                  <Pick
                    aria-label="unit of the picture’s place"
                    value={unit}
                    onChange={(e) => setUnit(e.target.value as FileUnit)}
                  >
                    {(Object.keys(METRES_IN_FILE) as FileUnit[]).map((u) => (
                      <option key={u} value={u}>
                        {UNIT_NAME[u]}
                      </option>
                    ))}
                  </Pick>
                </>
              ) : null}
            </Flex>
            {sending === null ? (
              <Box>
                <Act look="solid" disabled={!place} onClick={() => void accept()}>
                  Import the picture
                </Act>
              </Box>
            ) : (
              <Flex gap="8px" align="center">
                <Aside>sending</Aside>
                <Progress share={sending} />
              </Flex>
            )}
          </>
        ) : null}
      </Flex>
    </Flex>
  );
}

function PlaceSaid({ place, remark }: { place: Place | null; remark: string | null }) {
  if (!place) return null;
  return (
    <Box>
      {remark ? `${remark} ` : null}
      {place.placed.by === 'file'
        ? `Its place comes from ${place.placed.name}.`
        : remark
          ? 'It lies in the middle of the view, not to scale.'
          : 'The file does not say where it is: it lies in the middle of the view, not to scale. Once it is imported, fit it by marks, or bring it to scale by a known length.'}
    </Box>
  );
}

/** What the bytes on the page are known by until the server has their checksum. */
const localKey = (file: File): string => `${file.name} ${file.size} ${file.lastModified}`;
