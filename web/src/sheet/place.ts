export interface Place {
  x: number;
  y: number;
  z: number;
}
