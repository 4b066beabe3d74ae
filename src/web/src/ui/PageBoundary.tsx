import { Component, type ReactNode } from 'react';

/** Where a page cannot be shown, because its script is out of reach or it failed: says so, and leaves the ways on and back. */
export class PageBoundary extends Component<
  { place: string; children: ReactNode },
  { failed: boolean; place: string }
> {
  override state = { failed: false, place: this.props.place };

  static getDerivedStateFromError() {
    return { failed: true };
  }

  static getDerivedStateFromProps({ place }: { place: string }, state: { failed: boolean; place: string }) {
    return place === state.place ? null : { failed: false, place };
  }

  override render() {
    if (!this.state.failed) {
      return this.props.children;
    }
    return (
      <main className="min-h-dvh">
        <div className="flex h-[52px] items-center bg-iron px-5 text-on-iron">
          <h1 className="font-mono text-[22px] font-bold">Rusty Ledger</h1>
        </div>
        <div className="p-5">
          <p>
            This page could not be opened: the ledger is out of reach, or the page failed. What was typed is kept on
            this device.
          </p>
          <p className="mt-3 flex gap-3">
            <button type="button" className="action" onClick={() => location.reload()}>
              Try again
            </button>
            <a className="quiet inline-flex min-h-[44px] items-center" href="/">
              To the first page
            </a>
          </p>
        </div>
      </main>
    );
  }
}
