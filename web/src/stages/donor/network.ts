import type { Network } from '../../api/types';

/** "7 messages", "1 message". */
export const messagesIn = (network: Network) => {
  const n = network.messages?.length ?? 0;
  return `${String(n)} ${n === 1 ? 'message' : 'messages'}`;
};
