/** Shows an error within one view; everything around it continues. */
import { Component, type ReactNode } from 'react';

interface FaultProps {
  /** What the view is about: when this changes, the view is tried again. */
  of: string;
  children: ReactNode;
}

interface FaultState {
  error: Error | null;
  of: string;
}

export class Fault extends Component<FaultProps, FaultState> {
  override state: FaultState = { error: null, of: this.props.of };

  static getDerivedStateFromError(error: Error): Partial<FaultState> {
    return { error };
  }

  static getDerivedStateFromProps(props: FaultProps, state: FaultState): Partial<FaultState> | null {
    return props.of === state.of ? null : { error: null, of: props.of };
  }

  override render() {
    const { error } = this.state;
    if (!error) return this.props.children;
    const notFetched = /dynamically imported|module script|fetch/i.test(error.message);
    return (
      <main className="grid place-content-center gap-3 p-8 text-center" role="alert">
        <h1>{notFetched ? 'This view could not be loaded' : 'Something went wrong in this view'}</h1>
        <p className="max-w-[52ch] text-soft">
          {notFetched
            ? 'The studio is not responding. Try again when it is back; nothing is lost.'
            : `Everything saved is safe, and the other steps still work. The error was: ${error.message}`}
        </p>
        <p>
          <button
            type="button"
            className="btn btn-go"
            // The browser remembers a part that could not be fetched as missing until the page is reloaded.
            onClick={() => (notFetched ? window.location.reload() : this.setState({ error: null }))}
          >
            Try again
          </button>
        </p>
      </main>
    );
  }
}
