/** A scanner's text file of n coded points on rolling ground, with headings. */
export function scan(n: number): string {
  const rows: string[] = ['Number,East [m],North [m],Elevation [m],Code'];
  for (let i = 0; i < n; i++) {
    const x = (i % 500) * 1.3 + ((i * 37) % 11) * 0.05;
    const y = Math.floor(i / 500) * 1.3 + ((i * 53) % 13) * 0.05;
    const z = 60 + 4 * Math.sin(x / 50) + 3 * Math.cos(y / 70);
    rows.push(`${i + 1},${(4000 + x).toFixed(3)},${(7000 + y).toFixed(3)},${z.toFixed(3)},GR`);
  }
  return rows.join('\n');
}
