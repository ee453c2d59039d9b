// Loads files with readers that we did not write and prints what they found as JSON:
// node check_readers.mjs NODE_MODULES FILE …
import fs from "node:fs";
import path from "node:path";

const [modules, ...files] = process.argv.slice(2);
const loaders = path.join(modules, "three/examples/jsm/loaders");
globalThis.self = globalThis;

const bytesOf = (file) => {
    const bytes = fs.readFileSync(file);
    return bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength);
};

/// The small parts of a geometry that a test compares.
const toldOf = (geometry) => ({
    vertices: geometry.attributes.position.count,
    triangles: geometry.index ? geometry.index.count / 3 : geometry.attributes.position.count / 3,
    attributes: Object.keys(geometry.attributes),
    positions: Array.from(geometry.attributes.position.array.slice(0, 300)),
});

async function ply(file) {
    const { PLYLoader } = await import(path.join(loaders, "PLYLoader.js"));
    return toldOf(new PLYLoader().parse(bytesOf(file)));
}

async function obj(file) {
    const { OBJLoader } = await import(path.join(loaders, "OBJLoader.js"));
    const group = new OBJLoader().parse(fs.readFileSync(file, "utf8"));
    return { objects: group.children.map((child) => ({ name: child.name, ...toldOf(child.geometry) })) };
}

async function glb(file) {
    const { GLTFLoader } = await import(path.join(loaders, "GLTFLoader.js"));
    const gltf = await new GLTFLoader().parseAsync(bytesOf(file), "");
    const instances = [];
    gltf.scene.updateMatrixWorld(true);
    const matrix = new (await import(path.join(modules, "three/build/three.module.js"))).Matrix4();
    gltf.scene.traverse((node) => {
        if (!node.isInstancedMesh) return;
        for (let i = 0; i < node.count; ++i) {
            node.getMatrixAt(i, matrix);
            matrix.premultiply(node.matrixWorld);
            instances.push(matrix.elements.slice(12, 15));
        }
    });
    let lights = 0, cameras = gltf.cameras.length;
    gltf.scene.traverse((node) => (lights += node.isLight ? 1 : 0));
    return { instances, lights, cameras, clips: gltf.animations.map((clip) => ({ tracks: clip.tracks.length, seconds: clip.duration })) };
}

async function exr(file) {
    const { EXRLoader } = await import(path.join(loaders, "EXRLoader.js"));
    const picture = new EXRLoader().parse(bytesOf(file));
    return { width: picture.width, height: picture.height };
}

/// By the web library's parser: every attribute, with its samples.
async function usdOf(file) {
    const { USDAParser } = await import(path.join(loaders, "usd/USDAParser.js"));
    const specs = new USDAParser().parseData(fs.readFileSync(file, "utf8")).specsByPath;
    const out = {};
    for (const [where, spec] of Object.entries(specs))
        if (/\.(positions|scales|orientations|ids|invisibleIds|protoIndices|points)$/.test(where))
            out[where] = spec.fields.timeSamples ?? { times: [], values: [spec.fields.default] };
    return { attributes: out, prims: Object.entries(specs).filter(([, s]) => s.fields?.typeName && s.specType === 6).map(([w, s]) => [w, s.fields.typeName]) };
}

/// By tinyusdz, which takes itself to be in a browser where there is no process: as its layer prints it.
async function tinyOf(file) {
    const shelved = globalThis.process;
    globalThis.WorkerGlobalScope = function () {};
    globalThis.location = { href: "file:///" };
    const wasmBinary = fs.readFileSync(path.join(modules, "tinyusdz/tinyusdz.wasm"));
    Object.defineProperty(globalThis, "process", { value: undefined, writable: true, configurable: true });
    const { default: start } = await import(path.join(modules, "tinyusdz/tinyusdz.js"));
    const usd = await start({ wasmBinary, print() {}, printErr() {} });
    globalThis.process = shelved;
    const loader = new usd.TinyUSDZLoaderNative();
    const loaded = loader.loadAsLayerFromBinary(new Uint8Array(bytesOf(file)), "a.usda");
    const text = loaded ? loader.layerToString() : "";
    const samples = {};
    const at = text.indexOf("positions.timeSamples");
    const block = at < 0 ? "" : text.slice(at, text.indexOf("}", at));
    for (const [, frame, list] of block.matchAll(/(-?\d+)\s*:\s*\[([^\]]*)\]/g))
        samples[frame] = list.match(/-?[\d.]+(e-?\d+)?/g).map(Number);
    return { loaded, error: loader.error(), positions: samples };
}

const readers = { ".ply": ply, ".obj": obj, ".glb": glb, ".exr": exr };
const told = {};
for (const file of files) {
    const ending = path.extname(file);
    told[path.basename(file)] = ending === ".usda" ? { web: await usdOf(file), tiny: await tinyOf(file) } : await readers[ending](file);
}
console.log(JSON.stringify(told));
