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
const fade = (x) => x * x * x * (x * (x * 6 - 15) + 10);
const mix = (a, b, x) => a + (b - a) * x;

/// One octave of gradient noise over place and looping time, three outputs from one hash a corner.
const noise = new Float64Array(3), corner = new Float64Array(48);
function gradientNoise(x, y, z, time, period) {
  const cx = Math.floor(x), cy = Math.floor(y), cz = Math.floor(z), cw = Math.floor(time);
  const fx = x - cx, fy = y - cy, fz = z - cz, fw = time - cw;
  for (let c = 0; c < 16; c++) {
    const i = c & 1, j = (c >> 1) & 1, k = (c >> 2) & 1, w = c >> 3;
    const h = scramble(Math.imul(cx + i, 0x8da6b343) + Math.imul(cy + j, 0xd8163841) + Math.imul(cz + k, 0xcb1ab31f) + Math.imul((cw + w) % period, 0x9c06faf5));
    const dx = fx - i, dy = fy - j, dz = fz - k, dw = fw - w;
    for (let o = 0; o < 3; o++) {
      const b = h >> (o * 4);
      corner[c * 3 + o] = (b & 1 ? -dx : dx) + (b & 2 ? -dy : dy) + (b & 4 ? -dz : dz) + (b & 8 ? -dw : dw);
    }
  }
  const ux = fade(fx), uy = fade(fy), uz = fade(fz), uw = fade(fw);
  for (let o = 0; o < 3; o++) {
    const along = (c) => mix(mix(mix(corner[c * 3 + o], corner[(c + 1) * 3 + o], ux), mix(corner[(c + 2) * 3 + o], corner[(c + 3) * 3 + o], ux), uy),
                             mix(mix(corner[(c + 4) * 3 + o], corner[(c + 5) * 3 + o], ux), mix(corner[(c + 6) * 3 + o], corner[(c + 7) * 3 + o], ux), uy), uz);
    noise[o] = Math.min(1, Math.max(-1, mix(along(0), along(8), uw) * 1.6));
  }
}

function frame(number) {
  const loop = (number / 125) % 1, half = ((side - 1) * 1.25) / 2;
  for (let n = 0; n < count; n++) {
    home.set((n % side) * 1.25 - half, Math.floor(n / (side * side)) * 1.25 - 1.875, (Math.floor(n / side) % side) * 1.25 - half);
    gradientNoise(home.x / 2, home.y / 2, home.z / 2, loop * 4, 4);
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
