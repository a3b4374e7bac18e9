import { Component } from 'react';
import { HarvestHead } from './HarvestHead';
import { HarvestFrame } from './HarvestFrame';

export class Harvest extends Component {
  state = { chosen: undefined };

  choose = (frame) => this.setState({ chosen: frame });

  render() {
    return (
      <section>
        <HarvestHead hive={this.props.hive} frames={this.props.frames} />
        <ul>
          {this.props.frames.map((frame) => (
            <HarvestFrame key={frame} frame={frame} chosen={this.state.chosen} onChoose={this.choose} />
          ))}
        </ul>
      </section>
    );
  }
}
