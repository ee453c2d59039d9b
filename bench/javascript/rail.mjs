// The yardstick's rail as one would write it by hand on a mainstream JavaScript 3D library: every instance through noise
// offset, random rotation, wave on scale, ball zone on scale and colour by height, into an instanced mesh.
// Prints the median of the frame times in milliseconds as JSON. Run by scripts/compare-javascript.
import { BoxGeometry, Color, Euler, InstancedMesh, Matrix4, MeshBasicMaterial, Quaternion, Vector3 } from 'three';

const side = 500, layers = 4, count = side * layers * side;
const mesh = new InstancedMesh(new BoxGeometry(), new MeshBasicMaterial(), count);
const position = new Vector3(), scale = new Vector3(), home = new Vector3();
const quaternion = new Quaternion(), turn = new Quaternion(), euler = new Euler();
const matrix = new Matrix4(), colour = new Color();
const stops = [[0, new Color(0.16, 0.12, 0.09)], [0.6, new Color(0.72, 0.5, 0.2)], [1, new Color(1, 0.9, 0.66)]];

const scramble = (h) => {
  h = Math.imul(h ^ (h >>> 16), 0x7feb352d);
  h = Math.imul(h ^ (h >>> 15), 0x846ca68b);
  return (h ^ (h >>> 16)) >>> 0;
};
const chance = (id, channel) => scramble(id ^ Math.imul(channel + 1, 0x85ebca6b)) / 4294967296;
/// One octave of simplex noise over place and looping time, three outputs from one hash a corner.
const noise = new Float64Array(3), at4 = new Float64Array(4), cell = new Int32Array(4), rank = new Int32Array(4), d = new Float64Array(4);
const factors = [0x8da6b343, 0xd8163841, 0xcb1ab31f, 0x9c06faf5];
function gradientNoise(x, y, z, time, period) {
  x *= 0.307, y *= 0.307, z *= 0.307;
  at4[0] = time + x + y + z, at4[1] = time + x - y - z, at4[2] = time - x + y - z, at4[3] = time - x - y + z;
  let sum = 0;
  for (let i = 0; i < 4; i++) {
    cell[i] = Math.floor(at4[i]);
    at4[i] -= cell[i];
    sum += at4[i];
    rank[i] = 0;
  }
  for (let i = 0; i < 4; i++)
    for (let j = i + 1; j < 4; j++) rank[at4[i] > at4[j] ? i : j]++;
  const laps = Math.floor(cell[3] / period) * period;
  for (let i = 0; i < 4; i++) cell[i] -= laps;
  noise.fill(0);
  for (let c = 0; c < 5; c++) {
    const last = rank[3] > 3 - c && cell[3] + 1 === period ? period : 0;
    let h = 0, reach = 0.5;
    for (let i = 0; i < 4; i++) {
      const step = rank[i] > 3 - c ? 1 : 0;
      d[i] = at4[i] + (c - sum) * 0.138196601 - step;
      h = (h + Math.imul(cell[i] + step - last, factors[i])) | 0;
      reach -= d[i] * d[i];
    }
    if (reach <= 0) continue;
    h = scramble(h);
    const weight = reach * reach * reach * 41.3;
    for (let o = 0; o < 3; o++) {
      const b = h >> (o * 4);
      noise[o] += weight * ((b & 1 ? -d[0] : d[0]) + (b & 2 ? -d[1] : d[1]) + (b & 4 ? -d[2] : d[2]) + (b & 8 ? -d[3] : d[3]));
    }
  }
  for (let o = 0; o < 3; o++) noise[o] = Math.min(1, Math.max(-1, noise[o]));
}

function frame(number) {
  const loop = (number / 125) % 1, half = ((side - 1) * 1.25) / 2;
  for (let n = 0; n < count; n++) {
    home.set((n % side) * 1.25 - half, Math.floor(n / (side * side)) * 1.25 - 1.875, (Math.floor(n / side) % side) * 1.25 - half);
    gradientNoise(home.x / 2, home.y / 2, home.z / 2, loop * 3, 3);
    position.set(home.x + noise[0] * 0.5, home.y + noise[1] * 0.5, home.z + noise[2] * 0.5);
    euler.set((chance(n, 0) * 2 - 1) * Math.PI, (chance(n, 1) * 2 - 1) * Math.PI, (chance(n, 2) * 2 - 1) * Math.PI, 'ZYX');
    quaternion.identity().premultiply(turn.setFromEuler(euler));
    const wave = 1 + 0.5 * Math.sin((home.x / 4 - loop) * 2 * Math.PI);
    const depth = Math.min(1, Math.max(0, (side * 0.4 - home.length()) / (side * 0.2)));
    const ball = 1 + 0.5 * depth * depth * (3 - 2 * depth);
    scale.setScalar(wave * ball);
    matrix.compose(position, quaternion, scale);
    mesh.setMatrixAt(n, matrix);
    const at = (home.y + 1.875) / 3.75, s = at < stops[1][0] ? 0 : 1;
    colour.lerpColors(stops[s][1], stops[s + 1][1], (at - stops[s][0]) / (stops[s + 1][0] - stops[s][0]));
    mesh.setColorAt(n, colour);
  }
}

frame(0);
frame(1);
const times = [];
for (let n = 2; n < 9; n++) {
  const start = performance.now();
  frame(n);
  times.push(performance.now() - start);
}
times.sort((a, b) => a - b);
console.log(JSON.stringify({ instances: count, frame_ms: times[3] }));
