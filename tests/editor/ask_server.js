/* SPDX-License-Identifier: MIT */
/* ask_server.js SERVER FOLDER: opens plans in FOLDER (with schema/ beside it) as an editor would, in a YAML language server, and prints what
 * it shows: the findings of each plan, then the keys that it offers in an empty source and what it says of a key. */
"use strict";
const { spawn } = require("child_process");
const fs = require("fs");
const path = require("path");
const { pathToFileURL } = require("url");

const [server, folder] = process.argv.slice(2);
const child = spawn(process.execPath, [server, "--stdio"], { stdio: ["pipe", "pipe", "inherit"] });
const answers = new Map();
const findings = new Map();
let received = Buffer.alloc(0);
let last = 0;

function send(message) {
    const body = Buffer.from(JSON.stringify({ jsonrpc: "2.0", ...message }));
    child.stdin.write(`Content-Length: ${body.length}\r\n\r\n`);
    child.stdin.write(body);
}

function ask(method, params) {
    send({ id: ++last, method, params });
    return new Promise((resolve) => answers.set(last, resolve));
}

function take(message) {
    if (message.id !== undefined && message.method !== undefined)
        send({ id: message.id, result: message.method === "workspace/configuration" ? message.params.items.map(() => null) : null });
    else if (message.id !== undefined)
        answers.get(message.id)?.(message.result);
    else if (message.method === "textDocument/publishDiagnostics")
        findings.get(message.params.uri)?.(message.params.diagnostics);
}

child.stdout.on("data", (bytes) => {
    received = Buffer.concat([received, bytes]);
    for (;;) {
        const end = received.indexOf("\r\n\r\n");
        const length = end < 0 ? NaN : Number(/Content-Length: (\d+)/.exec(received.subarray(0, end).toString())[1]);
        if (end < 0 || received.length < end + 4 + length)
            return;
        const body = received.subarray(end + 4, end + 4 + length);
        received = received.subarray(end + 4 + length);
        take(JSON.parse(body.toString()));
    }
});

const uri_of = (name) => pathToFileURL(path.join(folder, name)).href;

function open(name) {
    const uri = uri_of(name);
    const found = new Promise((resolve) => findings.set(uri, resolve));
    const text = fs.readFileSync(path.join(folder, name), "utf8");
    send({ method: "textDocument/didOpen", params: { textDocument: { uri, languageId: "yaml", version: 1, text } } });
    return found;
}

async function main() {
    await ask("initialize", {
        processId: process.pid, rootUri: pathToFileURL(folder).href,
        capabilities: { textDocument: { completion: { completionItem: { documentationFormat: ["plaintext"] } }, publishDiagnostics: {} } },
    });
    send({ method: "initialized", params: {} });
    for (const name of fs.readdirSync(folder).filter((file) => file.endsWith(".plan.yaml")).sort()) {
        const found = await open(name);
        console.log(`${name}: ${found.length} findings`);
        for (const one of found)
            console.log(`  ${one.range.start.line + 1}:${one.range.start.character + 1}: ${one.message.split("\n")[0]}`);
        const lines = fs.readFileSync(path.join(folder, name), "utf8").split("\n");
        const line = lines.findIndex((text) => text.trimEnd().endsWith("# here"));
        if (line < 0)
            continue;
        const at = { textDocument: { uri: uri_of(name) }, position: { line, character: lines[line].indexOf("#") } };
        const offered = await ask("textDocument/completion", at);
        console.log("  offered: " + offered.items.map((item) => item.label).sort().join(" "));
        const over = { textDocument: at.textDocument, position: { line: line - 1, character: lines[line - 1].search(/\S/) + 1 } };
        const said = await ask("textDocument/hover", over);
        console.log("  said: " + JSON.stringify(said?.contents?.value ?? said?.contents ?? ""));
    }
    child.kill();
}

setTimeout(() => {
    console.log("the server did not answer");
    process.exit(1);
}, 60000).unref();
main();
