// When a page breaks: say so, keep what was typed, and offer the way back.
import { Component } from 'react'

export class Boundary extends Component<{ children: React.ReactNode }, { fault: Error | null }> {
  state = { fault: null as Error | null }

  static getDerivedStateFromError(fault: Error) {
    return { fault }
  }

  render() {
    if (!this.state.fault) return this.props.children
    return (
      <main className="mx-auto max-w-xl space-y-4 p-8">
        <h1 className="text-xl font-bold">This page has broken</h1>
        <p>What you typed is kept in this browser and what was saved is on the server. Open the page again.</p>
        <p className="reading text-sm break-words text-quiet">{this.state.fault.message}</p>
        <p className="flex gap-6">
          <a href={window.location.pathname} className="font-bold underline">
            Open it again
          </a>
          <a href="/" className="font-bold underline">
            Shop floor
          </a>
        </p>
      </main>
    )
  }
}
