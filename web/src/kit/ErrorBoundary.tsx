import { Component, type ReactNode } from 'react';
import { Message } from './Message';

/** Catches what no screen should throw, so that nobody is left before an empty page. */
export class ErrorBoundary extends Component<{ children: ReactNode }, { problem: Error | null }> {
  override state = { problem: null };
  static getDerivedStateFromError = (problem: Error) => ({ problem });
  override render() {
    if (!this.state.problem) return this.props.children;
    return (
      <Message
        title="This screen has stumbled"
        text="What was kept is safe on the server. Load the page again; if it happens once more at the same place, tell whoever looks after Tea Pencil."
        again={() => location.reload()}
      />
    );
  }
}
