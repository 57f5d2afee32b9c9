import { receivedValues, type ReceivedField, type ReceivedValue } from '#core/exchange';
import { unpackRead } from '#core/sources';

export interface ReceivedTask {
  /** The packed read of a file. */
  read: Uint8Array;
  asked: ReceivedField[];
}

/** Values of a file as received; a long book takes its time to unpack, which no request may hold. */
export const readReceived = ({ read, asked }: ReceivedTask): (ReceivedValue | undefined)[] =>
  receivedValues(unpackRead(read), asked);
