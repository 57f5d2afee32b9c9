import type { Box, EmptyLayers } from '#core/exchange';
import { Act, Aside } from '../frame/controls.tsx';

/** From here on a tenth says nothing of how wide a row is. */
const WIDE = 1000;

interface ExtentsProps {
  /** What the row is called. */
  called: string;
  /** In the drawing's own unit. */
  extent: Box;
  show?: (extent: Box) => void;
}

/** How wide and how deep a row is, to be recognised; pressed, it is shown on the drawing. */
export function Extents({ called, extent, show }: ExtentsProps) {
  const [west, south, east, north] = extent;
  const size = [east - west, north - south];
  const decimals = Math.max(...size) < WIDE ? 1 : 0;
  const text = size.every((v) => v === 0) ? 'one place' : size.map((v) => v.toFixed(decimals)).join(' × ');
  const between = (a: number, b: number): string => `${a.toFixed(decimals)} to ${b.toFixed(decimals)}`;
  const where = `E ${between(west, east)}, N ${between(south, north)}`;
  if (!show) return <span title={where}>{text}</span>;
  return (
    <Act
      look="quiet"
      height="22px"
      px="3px"
      font="inherit"
      title={`${where}; show on the drawing`}
      aria-label={`${called}: ${where}; show on the drawing`}
      onClick={() => show(extent)}
    >
      {text}
    </Act>
  );
}

const NAMED = 12;

/** The layers that hold nothing. */
export function EmptyLayersSaid({ names, count }: EmptyLayers) {
  const more = count - Math.min(names.length, NAMED);
  return (
    <Aside display="block" mt="4px">
      {count === 1 ? '1 layer is empty' : `${count} layers are empty`}: {names.slice(0, NAMED).join(', ')}
      {more ? ` and ${more} more` : ''}
    </Aside>
  );
}
