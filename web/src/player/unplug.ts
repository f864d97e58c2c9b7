/** Take a listener off a node. One that was let go meanwhile has let go of all it led to, which the browser calls an error. */
export function unplug(from: AudioNode | undefined, to: AudioNode, input = 0) {
  try {
    from?.disconnect(to, 0, input);
  } catch (error) {
    if ((error as DOMException).name !== 'InvalidAccessError') throw error;
  }
}
