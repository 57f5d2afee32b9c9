/** What of WebGL 2 says whether everything that was asked for is drawn. */
export type Fences = Pick<WebGL2RenderingContext, 'fenceSync' | 'getSyncParameter' | 'deleteSync' | 'flush'> & {
  readonly SYNC_GPU_COMMANDS_COMPLETE: number;
  readonly SYNC_STATUS: number;
  readonly UNSIGNALED: number;
};

/**
 * When the drawing is drawn: with the page's next frame where a hand moves it, otherwise after that frame, so that tables
 * and cards never wait for it; and not before the last picture is complete: what changes meanwhile comes into one.
 */
export class Frames {
  private frame = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private fence: WebGLSync | null = null;
  private stopped = false;

  constructor(
    private readonly gl: Fences,
    private readonly render: () => void,
  ) {}

  /** The hand waits for it. */
  next(): void {
    if (this.frame || this.stopped) return;
    clearTimeout(this.timer);
    this.timer = undefined;
    this.frame = requestAnimationFrame(this.tick);
  }

  /** The page is painted first. */
  afterPaint(): void {
    if (this.frame || this.timer !== undefined || this.stopped) return;
    this.frame = requestAnimationFrame(() => {
      this.frame = 0;
      this.timer = setTimeout(() => {
        this.timer = undefined;
        this.tick();
      });
    });
  }

  stop(): void {
    this.stopped = true;
    cancelAnimationFrame(this.frame);
    clearTimeout(this.timer);
    if (this.fence) this.gl.deleteSync(this.fence);
  }

  private readonly tick = (): void => {
    this.frame = 0;
    if (this.isDrawing()) {
      this.frame = requestAnimationFrame(this.tick);
      return;
    }
    this.render();
    this.fence = this.gl.fenceSync(this.gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    this.gl.flush();
  };

  private isDrawing(): boolean {
    if (!this.fence) return false;
    // A context that is lost says null: nothing is drawn any more.
    if (this.gl.getSyncParameter(this.fence, this.gl.SYNC_STATUS) === this.gl.UNSIGNALED) return true;
    this.gl.deleteSync(this.fence);
    this.fence = null;
    return false;
  }
}
