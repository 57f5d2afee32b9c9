import type { LandXmlChamber, LandXmlLine, Problem } from './content.ts';

interface Chamber extends LandXmlChamber {
  /** Elevations of pipes in it, by the names of the pipes. */
  inverts: Map<string, number>;
}

interface Pipe {
  name: string;
  desc: string;
  from: string;
  to: string;
}

/** Chambers and pipes of a network as they come: pipes name their chambers, chambers the elevations of their pipes. */
export class PipeNetwork {
  private readonly chambers = new Map<string, Chamber>();
  private readonly pipes: Pipe[] = [];

  constructor(private readonly name: string) {}

  chamber(of: Omit<Chamber, 'network'>): void {
    this.chambers.set(of.name, { ...of, network: this.name });
  }

  pipe(pipe: Pipe): void {
    this.pipes.push(pipe);
  }

  /** Chambers in their order, and a line from chamber to chamber at the inverts of each pipe. */
  finish(problem: Problem): { chambers: LandXmlChamber[]; pipes: LandXmlLine[] } {
    const pipes = this.pipes.flatMap(({ name, desc, from, to }): LandXmlLine[] => {
      const [a, b] = [this.chambers.get(from), this.chambers.get(to)];
      if (!a || !b) {
        problem(`pipe “${name}” names chamber “${(a ? to : from).slice(0, 40)}”, which is not in its network`);
        return [];
      }
      const end = (c: Chamber): number[] => [c.x, c.y, c.inverts.get(name) ?? NaN];
      return [{ kind: 'Pipe', name: this.name, ...(desc ? { code: desc } : {}), spatial: [...end(a), ...end(b)] }];
    });
    const chambers = [...this.chambers.values()].map(({ inverts, ...c }) => ({ ...c, sump: lowest([c.sump, ...inverts.values()]) })); // prettier-ignore
    return { chambers, pipes };
  }
}

/** The lowest of what is said; NaN where nothing is. */
function lowest(list: readonly number[]): number {
  const said = list.filter((v) => !Number.isNaN(v));
  return said.length ? said.reduce((a, b) => Math.min(a, b)) : NaN;
}
