import { receivedValues, unpackRead, type ReceivedField, type ReceivedValue } from '#core/chain';

export interface ReceivedTask {
  /** The packed read of a file. */
  read: Uint8Array;
  asked: ReceivedField[];
}

/** Values of a file as received; a long book takes its time to unpack, which no request may hold. */
export const readReceived = ({ read, asked }: ReceivedTask): (ReceivedValue | undefined)[] =>
  receivedValues(unpackRead(read), asked);
