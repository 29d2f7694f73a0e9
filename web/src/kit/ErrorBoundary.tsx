import { Component, type ReactNode } from 'react';
import { Message } from './Message';

interface Props {
  children: ReactNode;
  /** What stands in its place when it cannot be drawn: of a part, so that all else stays. */
  instead?: ReactNode;
  /** What it draws; another one is tried anew. */
  of?: unknown;
}
interface State {
  problem: Error | null;
  of: unknown;
}

/** Catches what no screen should throw, so that nobody is left before an empty page. */
export class ErrorBoundary extends Component<Props, State> {
  override state: State = { problem: null, of: this.props.of };
  static getDerivedStateFromError = (problem: Error) => ({ problem });
  static getDerivedStateFromProps = ({ of }: Props, state: State) => (of === state.of ? null : { problem: null, of });
  override render() {
    const { children, instead } = this.props;
    if (!this.state.problem) return children;
    if (instead !== undefined) return instead;
    return (
      <Message
        title="This screen has stumbled"
        text="What was kept is safe on the server. Load the page again; if it happens once more at the same place, tell whoever looks after Tea Pencil."
        again={() => location.reload()}
      />
    );
  }
}

/** One of many, such as a row or a thread: when it cannot be drawn, that is said in its place, and the others stay. */
export const OneOfMany = ({ what, of, children }: { what: string; of: unknown; children: ReactNode }) => (
  <ErrorBoundary of={of} instead={<span className="not-shown">{what} cannot be shown. What was kept is safe.</span>}>
    {children}
  </ErrorBoundary>
);
