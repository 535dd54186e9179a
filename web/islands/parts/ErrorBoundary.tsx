import { Component, type ReactNode } from 'react';

export interface ErrorBoundaryProps {
  /** What is inside, for the sentence: "The viewport". */
  what: string;
  children: ReactNode;
}

/** Keeps a failure in one part from taking the page. */
export class ErrorBoundary extends Component<ErrorBoundaryProps, { message: string | null }> {
  override state: { message: string | null } = { message: null };

  static getDerivedStateFromError(error: unknown): { message: string } {
    return { message: error instanceof Error ? error.message : String(error) };
  }

  override render(): ReactNode {
    const { message } = this.state;
    if (message === null) return this.props.children;
    return (
      <div role="alert" className="m-3 card p-3">
        <p className="font-semibold text-brick">{this.props.what} failed.</p>
        <p className="mt-1 text-soft">{message}</p>
        <button type="button" className="btn mt-2" onClick={() => this.setState({ message: null })}>
          Try again
        </button>
      </div>
    );
  }
}
