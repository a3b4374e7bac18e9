import { Component } from 'react';

export class Tally extends Component {
  constructor(props) {
    super(props);
    this.state = { count: props.first };
    this.add = this.add.bind(this);
  }

  componentDidUpdate(_, before) {
    if (before.count !== this.state.count) this.props.onCount(this.state.count);
  }

  add() {
    this.setState((before) => ({ count: before.count + 1 }));
  }

  render() {
    return <button onClick={this.add}>{this.state.count}</button>;
  }
}
