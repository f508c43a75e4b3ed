"""The network that tells looks of words, and its training. Needs torch, which the product has no use for."""

from __future__ import annotations

import io
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import torch
from numpy.typing import NDArray
from torch import Tensor, nn

from evenquill.core.reading.scanned.seen_looks import COLUMN, HEIGHT, WIDTH, SeenLook

from .words import Words

LEARNING_RATE, DECAY = 3e-3, 1e-3
SMALL_BATCH = 256


class Network(nn.Module):
    """Convolutions over the picture of a word, summed up for each of its columns (LeCun et al. 1998, with batch normalisation)."""

    def __init__(self) -> None:
        super().__init__()

        def step(given: int, made: int, size: int = 3, stride: int = 1) -> list[nn.Module]:
            return [
                nn.Conv2d(given, made, size, stride, size // 2, bias=False), nn.BatchNorm2d(made), nn.ReLU(inplace=True)
            ]  # fmt: skip

        self.seen = nn.Sequential(
            *step(1, 16, 5, 2),
            *step(16, 32),
            nn.MaxPool2d(2),
            *step(32, 64),
            nn.MaxPool2d(2),
            *step(64, 64),
            nn.Conv2d(64, 64, (HEIGHT // COLUMN, 1), bias=False),
            nn.BatchNorm2d(64),
            nn.ReLU(inplace=True),
            nn.Conv2d(64, len(SeenLook._fields), 1),
        )

    def forward(self, picture: Tensor) -> Tensor:
        scores: Tensor = self.seen(picture)
        return scores


def trained(words: Words, epochs: int, seed: int) -> Iterator[Network]:
    """The network after each pass over the words (Loshchilov and Hutter 2019, with one cycle of the learning rate)."""
    torch.manual_seed(seed)
    random = np.random.default_rng(seed)
    network = Network().to(memory_format=torch.channels_last)  # type: ignore[call-overload]
    optimiser = torch.optim.AdamW(network.parameters(), LEARNING_RATE, weight_decay=DECAY)
    steps = epochs * (len(words.fills) // SMALL_BATCH)
    rate = torch.optim.lr_scheduler.OneCycleLR(optimiser, LEARNING_RATE, total_steps=steps, pct_start=0.15)
    loss = nn.BCEWithLogitsLoss()
    for _ in range(epochs):
        network.train()
        order = random.permutation(len(words.fills))
        for start in range(0, len(order) - SMALL_BATCH + 1, SMALL_BATCH):
            own = order[start : start + SMALL_BATCH]
            optimiser.zero_grad()
            wanted = torch.from_numpy(words.looks[own].astype(np.float32))
            loss(_means(network, words, own, random), wanted).backward()
            optimiser.step()
            rate.step()
        yield network


def _means(network: Network, words: Words, own: NDArray[np.int64], random: np.random.Generator | None) -> Tensor:
    """The mean of the network's outputs over the columns that each word fills; words are moved a little while it learns."""
    pictures = words.pictures[own].astype(np.float32) / 255
    if random is not None:
        pictures = np.roll(pictures, tuple(random.integers(-1, 2, 2)), (1, 2))
        pictures = pictures * random.uniform(0.8, 1.0, (len(own), 1, 1)).astype(np.float32)
    columns = network(torch.from_numpy(pictures)[:, None]).reshape(len(own), -1, WIDTH // COLUMN)
    fills = torch.from_numpy(words.fills[own].astype(np.int64))
    mask = (torch.arange(WIDTH // COLUMN)[None] < fills[:, None]).float()
    means: Tensor = (columns * mask[:, None]).sum(2) / mask.sum(1)[:, None]
    return means


@torch.no_grad()
def outputs_of(network: Network, words: Words) -> NDArray[np.float32]:
    """Log odds (n, 4) that the network gives words."""
    network.eval()
    rows = [np.arange(start, min(start + 1024, len(words.fills))) for start in range(0, len(words.fills), 1024)]
    return np.concatenate([_means(network, words, own, None).numpy() for own in rows])


def write(network: Network, path: Path) -> None:
    """Writes the network as ONNX, for any number of words at once."""
    network.eval()
    out = io.BytesIO()
    torch.onnx.export(
        network, (torch.zeros(2, 1, HEIGHT, WIDTH),), out, input_names=["picture"], output_names=["columns"],
        dynamic_axes={name: {0: "words"} for name in ("picture", "columns")}, opset_version=13, dynamo=False,
    )  # fmt: skip
    path.write_bytes(out.getvalue())
