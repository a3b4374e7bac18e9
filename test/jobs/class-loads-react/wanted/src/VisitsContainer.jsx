import { Component } from 'react';
import { loadVisits } from './api';
import { Visits } from './Visits';

export class VisitsContainer extends Component {
  state = { visits: [], failed: false };

  componentDidMount() {
    this.load();
  }

  async load() {
    try {
      const visits = await loadVisits(this.props.hive);
      this.setState({ visits });
    } catch {
      this.setState({ failed: true });
    }
  }

  forget = (visit) => this.setState({ visits: this.state.visits.filter((one) => one !== visit) });

  render() {
    const { visits, failed } = this.state;
    if (failed) return <p>The visits could not be loaded.</p>;
    return <Visits hive={this.props.hive} visits={visits} onForget={this.forget} />;
  }
}
