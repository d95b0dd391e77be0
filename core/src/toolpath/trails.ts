/**
 * Covers a graph of lines with as few lifts as are worth it. Where two dead ends are near each
 * other along the lines, going back over cut wood is quicker than lifting: such pairs are joined
 * by retracing; what odd nodes remain start and end the trails. (The postman's problem with a
 * price on each lift; pairs chosen greedily, shortest first.) Between parts that do not hang
 * together there is a lift in any case, so each part has a beginning and an end for free.
 */

export interface Graph {
  nodes: number;
  from: ArrayLike<number>;
  to: ArrayLike<number>;
  length: ArrayLike<number>;
}

/** A step along edge `edge`: +1 from `from` to `to`, -1 the other way. */
export interface Step {
  edge: number;
  way: 1 | -1;
}

/**
 * @param liftCost what one lift costs, as a length of retraced line, mm
 * @returns trails that together pass every edge at least once
 */
export function trailsOf(graph: Graph, liftCost: number): Step[][] {
  const { nodes } = graph;
  const edges = graph.from.length;
  const incident = buildIncidence(graph);
  const part = partsOf(graph);
  // copies[e]: how often edge e is passed.
  const copies = new Int32Array(edges).fill(1);
  const degree = new Int32Array(nodes);
  for (let e = 0; e < edges; e++) {
    degree[graph.from[e]]++;
    degree[graph.to[e]]++;
  }
  for (const path of retracedPaths(graph, incident, part, degree, liftCost))
    for (const e of path) {
      copies[e]++;
      degree[graph.from[e]]++;
      degree[graph.to[e]]++;
    }
  return eulerTrails(graph, part, degree, copies);
}

interface Incidence {
  first: Int32Array;
  edge: Int32Array;
}

function buildIncidence(graph: Graph): Incidence {
  const edges = graph.from.length;
  const first = new Int32Array(graph.nodes + 1);
  for (let e = 0; e < edges; e++) {
    first[graph.from[e] + 1]++;
    first[graph.to[e] + 1]++;
  }
  for (let i = 0; i < graph.nodes; i++) first[i + 1] += first[i];
  const fill = first.slice();
  const edge = new Int32Array(2 * edges);
  for (let e = 0; e < edges; e++) {
    edge[fill[graph.from[e]]++] = e;
    edge[fill[graph.to[e]]++] = e;
  }
  return { first, edge };
}

/** A node of its own for every part of the graph that hangs together, told of each of its nodes. */
function partsOf({ nodes, from, to }: Graph): Int32Array {
  const parent = Int32Array.from({ length: nodes }, (_, i) => i);
  const root = (node: number): number => {
    while (parent[node] !== node) node = parent[node] = parent[parent[node]];
    return node;
  };
  for (let e = 0; e < from.length; e++) parent[root(from[e])] = root(to[e]);
  return parent.map((_, node) => root(node));
}

/** The nodes where an odd number of lines end, those of one part together. */
function oddNodes(part: Int32Array, degree: Int32Array): number[] {
  const odd: number[] = [];
  for (let i = 0; i < degree.length; i++) if (degree[i] % 2 === 1) odd.push(i);
  return odd.sort((p, q) => part[p] - part[q] || p - q);
}

/** A search is over when it has settled this many nodes: farther pairs are never the cheapest. */
const SETTLED = 300;

/** Shortest ways between odd nodes that cost less than a lift, taken greedily; one pair of odd nodes of every part is left as ends. */
function retracedPaths(graph: Graph, incident: Incidence, part: Int32Array, degree: Int32Array, liftCost: number): number[][] {
  const odd = oddNodes(part, degree);
  const candidates: { cost: number; a: number; b: number }[] = [];
  // What a search wrote is known by its stamp, so that nothing is cleared between searches.
  const cost = new Float64Array(graph.nodes);
  const via = new Int32Array(graph.nodes);
  const seen = new Int32Array(graph.nodes);
  const settled = new Int32Array(graph.nodes);
  let stamp = 0;
  /** Dijkstra from a node, bounded by the price of a lift, until `visit` says it is enough; what is open is never much. */
  const search = (source: number, visit: (node: number) => boolean) => {
    stamp++;
    const open: number[] = [source];
    cost[source] = 0;
    seen[source] = stamp;
    for (let count = 0; open.length > 0 && count <= SETTLED;) {
      let best = 0;
      for (let k = 1; k < open.length; k++) if (cost[open[k]] < cost[open[best]]) best = k;
      const node = open[best];
      open[best] = open[open.length - 1];
      open.pop();
      if (settled[node] === stamp) continue;
      settled[node] = stamp;
      count++;
      if (visit(node)) return;
      for (let k = incident.first[node]; k < incident.first[node + 1]; k++) {
        const e = incident.edge[k];
        const other = graph.from[e] === node ? graph.to[e] : graph.from[e];
        const total = cost[node] + graph.length[e];
        if (total < liftCost && (seen[other] !== stamp || total < cost[other])) {
          cost[other] = total;
          via[other] = e;
          seen[other] = stamp;
          open.push(other);
        }
      }
    }
  };
  for (const source of odd)
    search(source, (node) => {
      if (source < node && degree[node] % 2 === 1) candidates.push({ cost: cost[node], a: source, b: node });
      return false;
    });
  candidates.sort((p, q) => p.cost - q.cost || p.a - q.a || p.b - q.b);
  const paired = new Uint8Array(graph.nodes);
  const left = new Int32Array(graph.nodes);
  for (const node of odd) left[part[node]]++;
  const chosen: { a: number; b: number }[] = [];
  for (const { a, b } of candidates) {
    // The last pair of a part - the dearest - stays unpaired: paired the trail would close, for nothing.
    if (paired[a] || paired[b] || left[part[a]] === 2) continue;
    paired[a] = 1;
    paired[b] = 1;
    left[part[a]] -= 2;
    chosen.push({ a, b });
  }
  // The ways themselves are looked for again, for the few pairs that were chosen.
  return chosen.map(({ a, b }) => {
    search(a, (node) => node === b);
    return pathTo(graph, via, a, b);
  });
}

function pathTo(graph: Graph, via: Int32Array, source: number, node: number): number[] {
  const path: number[] = [];
  while (node !== source) {
    const e = via[node];
    path.push(e);
    node = graph.from[e] === node ? graph.to[e] : graph.from[e];
  }
  return path;
}

/**
 * Hierholzer's walk. The odd nodes of a part that are left are joined in pairs by lifts - edges that
 * are not cut - save one pair, where its walk begins and ends; cut apart at its lifts it is the trails.
 */
function eulerTrails(graph: Graph, part: Int32Array, degree: Int32Array, copies: Int32Array): Step[][] {
  const edges = graph.from.length;
  const from = Array.from(graph.from);
  const to = Array.from(graph.to);
  const left = [...copies];
  const odd = oddNodes(part, degree);
  const starts: number[] = [];
  for (let k = 0, first = 0; k < odd.length; k++) {
    if (part[odd[k]] !== part[odd[first]]) first = k;
    if (k === first) starts.push(odd[k]);
    else if ((k - first) % 2 === 0) {
      from.push(odd[k - 1]);
      to.push(odd[k]);
      left.push(1);
    }
  }
  const incident = buildIncidence({ nodes: graph.nodes, from, to, length: [] });
  const cursor = incident.first.slice(0, graph.nodes);
  const trails: Step[][] = [];
  const walkFrom = (start: number) => {
    const nodes: number[] = [start];
    const steps: Step[] = [];
    const out: Step[] = [];
    while (nodes.length > 0) {
      const node = nodes[nodes.length - 1];
      while (cursor[node] < incident.first[node + 1] && left[incident.edge[cursor[node]]] === 0) cursor[node]++;
      if (cursor[node] < incident.first[node + 1]) {
        const e = incident.edge[cursor[node]];
        left[e]--;
        const forward = from[e] === node;
        nodes.push(forward ? to[e] : from[e]);
        steps.push({ edge: e, way: forward ? 1 : -1 });
        continue;
      }
      nodes.pop();
      const step = steps.pop();
      if (step) out.push(step);
    }
    let trail: Step[] = [];
    const flush = () => {
      if (trail.length > 0) trails.push(trail);
      trail = [];
    };
    for (const step of out.reverse()) {
      if (step.edge >= edges) flush();
      else trail.push(step);
    }
    flush();
  };
  for (const start of starts) walkFrom(start);
  for (let i = 0; i < graph.nodes; i++) {
    while (cursor[i] < incident.first[i + 1] && left[incident.edge[cursor[i]]] === 0) cursor[i]++;
    if (cursor[i] < incident.first[i + 1]) walkFrom(i);
  }
  return trails;
}
