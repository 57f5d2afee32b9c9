import { cos, sin } from '#core/kernel';
import { METRES_IN_FILE } from '#core/measure';
import type { Book, BookRecord } from './records.ts';

const SECOND = 4.84813681109536e-6;

/** Writes a book in the open text form; angles to a hundredth of a second, lengths to a tenth of a millimetre. */
export function writeBookText(book: Book, order: 'EN' | 'NE' = 'EN'): string {
  const factor = METRES_IN_FILE[book.unit];
  const length = (m: number): string => (m / factor).toFixed(4);
  const out = ['book 1', `name ${book.name}`, `unit ${book.unit}`, 'angle dms', 'vertical zenith', `order ${order}`];
  const flat = book.records.find((r) => r.flat === 'geometric' || r.flat === 'reduced')?.flat;
  if (flat) out.push(`flat ${flat}`);
  if (book.earth) out.push(`earth ${book.earth}`);
  if (book.seaLevel !== undefined) out.push(`sealevel ${book.seaLevel ? 'yes' : 'no'}`);
  for (const i of book.instruments)
    out.push(
      `instrument ${quoted(i.name)} direction=${plain(i.direction / SECOND)} zenith=${plain(i.zenith / SECOND)} distance=${plain(i.distance * 1000)} ppm=${plain(i.ppm)} constant=${length(i.constant)} wavelength=${plain(i.wavelength)}`,
    );
  for (const t of book.targets) out.push(`target ${quoted(t.name)} constant=${length(t.constant)}`);
  for (const r of book.records) out.push((r.deleted ? 'deleted ' : '') + rowOf(r, length, order));
  out.push('end');
  return out.join('\r\n') + '\r\n';
}

const plain = (v: number): string => String(Number(v.toFixed(6)));
const quoted = (text: string): string => (/[\s"=]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);
const pair = (key: string, value: string): string => (value === '' ? '' : ` ${key}=${quoted(value)}`);

/** Degrees-minutes-seconds with dashes. */
export function dashed(radians: number, decimals = 2): string {
  const total = Math.round((radians / SECOND) * 10 ** decimals) % (1_296_000 * 10 ** decimals);
  const unit = 10 ** decimals;
  const seconds = (total % (60 * unit)) / unit;
  const minutes = Math.floor(total / (60 * unit)) % 60;
  const two = (v: number): string => String(v).padStart(2, '0');
  return `${Math.floor(total / (3600 * unit))}-${two(minutes)}-${seconds.toFixed(decimals).padStart(decimals ? decimals + 3 : 2, '0')}`;
}

/** What the observation states for itself. */
function deviations({ sd }: BookRecord): string {
  if (!sd) return '';
  const of = (key: string, v: number): string => (Number.isNaN(v) ? '' : ` ${key}=${plain(v)}`);
  return of('sdir', sd.direction / SECOND) + of('szen', sd.zenith / SECOND) + of('sdist', sd.distance * 1000);
}

function rowOf(r: BookRecord, length: (m: number) => string, order: 'EN' | 'NE'): string {
  const number = quoted(r.number);
  const said = (key: string, m: number): string => (Number.isNaN(m) ? '' : ` ${key}=${length(m)}`);
  const angle = (key: string, a: number): string => (Number.isNaN(a) ? '' : ` ${key}=${dashed(a)}`);
  const end = pair('code', r.code) + pair('time', r.time);
  const place = (): string => {
    const [a, b] = order === 'EN' ? [r.x, r.y] : [r.y, r.x];
    return `${length(a)} ${length(b)} ${Number.isNaN(r.z) ? '-' : length(r.z)}`;
  };
  switch (r.kind) {
    case 'setup':
      return `setup ${number}${said('hi', r.height)}${pair('instrument', r.instrument)}${pair('target', r.target)}${end}`;
    case 'sighting':
      return `${r.role || 'shot'} ${number}${r.face ? ` face=${r.face}` : ''}${r.round ? ` round=${r.round}` : ''}${angle('circle', r.circle)}${r.flat === 'plan' ? said('hdist', r.distance) + angle('zenith', r.zenith) : r.flat ? said('hdist', Math.abs(r.distance * sin(r.zenith))) + said('rise', r.distance * cos(r.zenith)) : angle('zenith', r.zenith) + said('dist', r.distance)}${said('th', r.height)}${deviations(r)}${pair('target', r.target)}${end}`;
    case 'azimuth':
      return `azimuth ${number} ${dashed(r.circle)}${end}`;
    case 'point':
      return `point ${number} ${place()}${r.role === 'control' ? ' standing=control' : ''}${end}`;
    case 'gnss': {
      const q = r.gnss!;
      const of = (key: string, v: number): string => (Number.isNaN(v) ? '' : ` ${key}=${plain(v)}`);
      return `gnss ${number} ${place()}${said('ah', r.height)}${said('sp', q.plan)}${said('sh', q.height)}${pair('fix', q.fix)}${pair('method', q.method)}${of('sats', q.satellites)}${of('pdop', q.pdop)}${of('hdop', q.hdop)}${of('vdop', q.vdop)}${pair('base', q.base)}${of('tilt', Number(((q.tilt * 180) / 3.141592653589793).toFixed(4)))}${q.covariance ? ` cov=${(order === 'EN' ? q.covariance : [1, 0, 2, 3, 5, 4].map((i) => q.covariance![i])).map((v) => plain(v * 1e6)).join('/')}` : ''}${pair('warning', q.warning)}${end}`;
    }
    case 'level':
      return `level ${r.role} ${number}${said('reading', r.height)}${said('dist', r.distance)}${end}`;
    case 'weather':
      if (!Number.isNaN(r.ppm)) return `weather ppm=${plain(r.ppm)}`;
      return `weather t=${r.temperature.toFixed(1)} p=${r.pressure.toFixed(1)}${Number.isNaN(r.humidity) ? '' : ` h=${r.humidity.toFixed(0)}`}`;
    case 'remark':
      return `remark ${r.text}`;
  }
}
