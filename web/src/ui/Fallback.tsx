// What stands in place of a part of the screen that failed; the rest goes on working.
import { Component } from "react";

interface Props {
  what: string;
  children: React.ReactNode;
}

export class Fallback extends Component<Props, { failed: string | null }> {
  override state = { failed: null };

  static getDerivedStateFromError(error: unknown) {
    return { failed: error instanceof Error ? error.message : String(error) };
  }

  override render() {
    if (this.state.failed === null) return this.props.children;
    return (
      <div role="alert" className="border-l-4 border-iron bg-iron-pale px-3 py-2">
        {this.props.what} cannot be shown ({this.state.failed}). Nothing recorded is lost; reload the page.
      </div>
    );
  }
}
