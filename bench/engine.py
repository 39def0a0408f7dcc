"""Questions with verdicts: the engine against `dig -f` and the DNS library's own asyncio, on one BIND on loopback.

Everything is measured in one run; dnsperf's figure for the same server stands beside it as the ceiling.
Needs named, dig and dnsperf; says so when they are missing.
"""

from __future__ import annotations

import asyncio
import re
import shutil
import socket
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import dns.asyncquery
import dns.message

from homepath.core.dns.answers import Question, Server
from homepath.core.dns.records import RecordSet
from homepath.core.dns.walk import Ask
from homepath.core.model.plan import DesiredSet
from homepath.core.propagation.readings import Watched, read
from homepath.net.asker import Asker
from homepath.net.network_file import Network

COUNT = 4000
NAMES = 500
MANY = (10_000, 200_000)
NEEDED = ("named", "dig", "dnsperf")


@contextmanager
def bind(folder: Path) -> Iterator[int]:
    """One BIND with a zone of 500 names; gives its port."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    hosts = "".join(f"h{at} A 192.0.2.{at % 250 + 1}\n" for at in range(NAMES))
    zone = f"$TTL 300\n@ SOA ns1 dns 1 60 60 60 60\n@ NS ns1\nns1 A 127.0.0.1\n{hosts}"
    (folder / "site.zone").write_text(zone)
    (folder / "named.conf").write_text(
        f"""options {{ directory "{folder}"; listen-on port {port} {{ 127.0.0.1; }}; listen-on-v6 {{ none; }};
        pid-file none; session-keyfile "{folder}/session.key"; recursion no; notify no; rate-limit {{ }}; }};
        controls {{ }};
        zone "tidewick-kiln.example." {{ type primary; file "{folder}/site.zone"; }};""".replace("rate-limit { };", "")
    )
    words = [shutil.which("named") or "named", "-g", "-c", str(folder / "named.conf")]
    with (folder / "log.txt").open("w") as log:
        process = subprocess.Popen(words, stdout=subprocess.DEVNULL, stderr=log)
    try:
        for _ in range(100):
            try:
                asked = dns.message.make_query("tidewick-kiln.example.", "SOA")
                answer = dns.query.udp(asked, "127.0.0.1", port=port, timeout=0.5)
                if answer.answer:
                    break
            except (OSError, dns.exception.DNSException):
                time.sleep(0.1)
        yield port
    finally:
        process.terminate()
        process.wait(10)


def watched(at: int) -> Watched:
    name = f"h{at % NAMES}.tidewick-kiln.example."
    old = RecordSet(name, "A", 300, ("198.51.100.7",))
    return Watched(DesiredSet(name, "A", (f"192.0.2.{at % NAMES % 250 + 1}",)), (old,), old)


async def with_engine(port: int, count: int) -> int:
    """So many questions, each judged; how many verdicts were `new`."""
    asker = Asker(Network(roots=(Server("127.0.0.1"),)))
    server = Server("127.0.0.1", port)
    kinds = [watched(at) for at in range(NAMES)]
    by_name = {each.name: each for each in kinds}
    asks: Iterator[Ask] = ((Question(kinds[at % NAMES].name, "A"), server) for at in range(count))
    right = 0
    async for answer in asker.each(asks):
        right += read(by_name[answer.question.name], answer, "bench", "authoritative").state == "new"
    return right


async def with_library(port: int, count: int) -> int:
    """The same with the DNS library's own asyncio under 200 tasks."""
    left = iter(range(count))
    right = 0

    async def work() -> None:
        nonlocal right
        for at in left:
            asked = dns.message.make_query(f"h{at % NAMES}.tidewick-kiln.example.", "A")
            answer = await dns.asyncquery.udp(asked, "127.0.0.1", port=port, timeout=5)
            right += any(str(rdata) == watched(at).wanted[0] for rdata in answer.answer[0])

    await asyncio.gather(*(work() for _ in range(200)))
    return right


def timed(work: Callable[[], object]) -> float:
    begins = time.perf_counter()
    work()
    return time.perf_counter() - begins


def peak_memory(port: int, count: int) -> int:
    """The most memory that so many questions take, in kB, measured in a process of its own.

    From /proc, because what `getrusage` says there begins with the memory of the process that started it.
    """
    code = (
        "import asyncio, engine, pathlib, re;"
        f"assert asyncio.run(engine.with_engine({port}, {count})) == {count};"
        "print(re.search(r'VmHWM:\\s+([0-9]+)', pathlib.Path('/proc/self/status').read_text())[1])"
    )
    words = [sys.executable, "-c", code]
    done = subprocess.run(words, cwd=Path(__file__).parent, capture_output=True, text=True, check=True)
    return int(done.stdout)


def main() -> None:
    lacking = [name for name in NEEDED if shutil.which(name, path="/usr/sbin:/usr/bin:/sbin:/bin") is None]
    if lacking:
        sys.stdout.write(f"questions with verdicts: NOT MEASURED, missing: {', '.join(lacking)}\n")
        return
    with tempfile.TemporaryDirectory() as made, bind(Path(made)) as port:
        folder = Path(made)
        lines = [f"h{at % NAMES}.tidewick-kiln.example. A\n" for at in range(COUNT)]
        (folder / "list.txt").write_text("".join(lines))
        dig = ["dig", "@127.0.0.1", "-p", str(port), "-f", str(folder / "list.txt")]
        rounds = []
        for _ in range(5):
            mine = timed(lambda: asyncio.run(with_engine(port, COUNT)))
            theirs = timed(lambda: subprocess.run(dig, stdout=subprocess.DEVNULL, check=True))
            library = timed(lambda: asyncio.run(with_library(port, COUNT)))
            rounds.append((mine, theirs, library))
        mine, theirs, library = (statistics.median(each) for each in zip(*rounds, strict=True))
        over_dig = statistics.median(b / a for a, b, _ in rounds)
        over_library = statistics.median(c / a for a, _, c in rounds)
        said = subprocess.run(
            ["dnsperf", "-s", "127.0.0.1", "-p", str(port), "-d", str(folder / "list.txt"), "-n", "5"],
            capture_output=True,
            text=True,
            check=True,
        ).stdout
        ceiling = float(re.search(r"Queries per second:\s+([0-9.]+)", said)[1])  # type: ignore[index]
        per_second = f"{COUNT / mine:.0f}/s; dig -f {COUNT / theirs:.0f}/s; library, 200 tasks {COUNT / library:.0f}/s"
        sys.stdout.write(f"questions with verdicts: {per_second}; dnsperf, the ceiling: {ceiling:.0f}/s\n")
        verdicts = ["within" if times >= least else "BELOW" for times, least in ((over_dig, 1.0), (over_library, 5.0))]
        sys.stdout.write(f"  {over_dig:.2f} times dig -f ({verdicts[0]} 1), ")
        sys.stdout.write(f"{over_library:.2f} times the library ({verdicts[1]} 5)\n")
        few, many = (peak_memory(port, count) for count in MANY)
        verdict = "flat" if many < few * 1.05 else "GROWS"
        sys.stdout.write(f"  memory: {few} kB for {MANY[0]} questions, {many} kB for {MANY[1]}: {verdict}\n")


if __name__ == "__main__":
    main()
