import { Component } from 'react';

export class Harvest extends Component {
  state = { chosen: undefined };

  choose = (frame) => this.setState({ chosen: frame });

  renderHead() {
    return (
      <header>
        <h2>{this.props.hive}</h2>
        <p>{this.props.frames.length} frames</p>
      </header>
    );
  }

  renderFrame(frame) {
    return (
      <li key={frame} className={frame === this.state.chosen ? 'chosen' : undefined}>
        {frame}
        <button onClick={() => this.choose(frame)}>Choose</button>
      </li>
    );
  }

  render() {
    return (
      <section>
        {this.renderHead()}
        <ul>{this.props.frames.map((frame) => this.renderFrame(frame))}</ul>
      </section>
    );
  }
}
