import type { ReactNode } from "react";
import { Component } from "react";

import { Button } from "../parts/Button";

interface SafeGroundProps {
  /** Where the person is: another place gets another chance. */
  place: string;
  children: ReactNode;
}

/** What stands where a screen fell over: words instead of a white page, and the way back. */
export class SafeGround extends Component<SafeGroundProps, { fell: string | null }> {
  override state: { fell: string | null } = { fell: null };

  static getDerivedStateFromError(): { fell: string } {
    return { fell: window.location.pathname };
  }

  override componentDidUpdate(before: SafeGroundProps): void {
    if (this.state.fell !== null && before.place !== this.props.place) this.setState({ fell: null });
  }

  override render(): ReactNode {
    if (this.state.fell === null) return this.props.children;
    return (
      <main role="alert" className="mx-auto flex max-w-xl flex-col items-start gap-3 px-5 py-10 text-lg">
        <h1 className="text-2xl font-bold">This page stopped working</h1>
        <p>What was stored is safe, and so is what you typed. Load the page again, or go to the morning.</p>
        <div className="flex flex-wrap gap-2">
          <Button
            look="main"
            onClick={() => {
              window.location.reload();
            }}
          >
            Load it again
          </Button>
          <Button
            onClick={() => {
              window.location.assign("/morning");
            }}
          >
            To the morning
          </Button>
        </div>
      </main>
    );
  }
}
