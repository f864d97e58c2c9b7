/**
 * Disconnects a listener from a node. If the node was disconnected meanwhile, the browser throws an error, which is
 * ignored.
 */
export function unplug(from: AudioNode | undefined, to: AudioNode, input = 0) {
  try {
    from?.disconnect(to, 0, input);
  } catch (error) {
    if ((error as DOMException).name !== 'InvalidAccessError') throw error;
  }
}
