import { Component } from 'react';

export class VisitsContainer extends Component {
  state = { visits: [], failed: false };

  componentDidMount() {
    this.load();
  }

  async load() {
    try {
      const answer = await fetch(`/visits?hive=${this.props.hive}`);
      if (!answer.ok) throw new Error('no visits');
      const visits = await answer.json();
      this.setState({ visits });
    } catch {
      this.setState({ failed: true });
    }
  }

  forget = (visit) => this.setState({ visits: this.state.visits.filter((one) => one !== visit) });

  render() {
    const { visits, failed } = this.state;
    if (failed) return <p>The visits could not be loaded.</p>;
    return (
      <section>
        <h2>{this.props.hive}</h2>
        <ul>
          {visits.map((visit) => (
            <li key={visit}>
              {visit}
              <button onClick={() => this.forget(visit)}>Forget</button>
            </li>
          ))}
        </ul>
      </section>
    );
  }
}
