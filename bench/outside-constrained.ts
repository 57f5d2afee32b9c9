import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { constrain, delaunay } from '#core/terrain';
import { cloud } from './points.ts';

/** Beside a C++ program on CGAL’s constrained triangulation, built here where compiler and headers are. */
export function outsideConstrainedFigure(runs = 3): void {
  console.log('Constrained, a million points, 49,500 breakline sides, beside CGAL (C++, -O2; wanted: at most 0.8)');
  const folder = mkdtempSync(join(tmpdir(), 'dunrik-bench-'));
  try {
    const [program, data] = [join(folder, 'constrained'), join(folder, 'points.bin')];
    const built = spawnSync('g++', ['-O2', '-DNDEBUG', join(import.meta.dirname, 'constrained.cpp'), '-o', program, '-lgmp', '-lmpfr']); // prettier-ignore
    if (built.status !== 0) return console.log('  not measured: g++ with libcgal-dev is not on this machine');
    const { x, y, xy, segments } = cloud(1e6, 0.05);
    writeFileSync(data, Buffer.concat([Uint32Array.of(x.length, segments.length / 2), xy, Uint32Array.from(segments)].map((a) => Buffer.from(a.buffer)))); // prettier-ignore
    const ratios: number[] = [];
    for (let i = -1; i < runs; i++) {
      const start = performance.now();
      const mesh = constrain(delaunay(x, y), segments);
      const ours = performance.now() - start;
      const [peer, faces] = spawnSync(program, [data], { encoding: 'utf8' }).stdout.trim().split(' ').map(Number);
      if (i < 0) continue;
      ratios.push(ours / peer);
      console.log(`  ours ${ours.toFixed(0)} ms, CGAL ${peer.toFixed(0)} ms (${faces} triangles), ratio ${(ours / peer).toFixed(2)}; breaklines that cross: ${mesh.crossings.length}`); // prettier-ignore
    }
    console.log(`  median ratio ${ratios.sort((a, b) => a - b)[ratios.length >> 1].toFixed(2)}`);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
