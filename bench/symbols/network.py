"""The network that tells symbols apart, and its training. Needs torch, which the product has no use for."""

from __future__ import annotations

import io
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import torch
from numpy.typing import NDArray
from torch import Tensor, nn

from evenquill.core.reading.scanned.formulas.symbols import SIDE

from .sheets import Samples

LEARNING_RATE, DECAY = 2e-3, 1e-4
SMALL_BATCH = 256
SHIFT = 0.06
"""Share of the picture's side by which samples are moved, made larger or smaller while the network learns."""


class Network(nn.Module):
    """Convolutions over the picture, then the picture and its shape together (LeCun et al. 1998, with batch normalisation)."""

    def __init__(self, classes: int) -> None:
        super().__init__()

        def step(given: int, made: int, size: int = 3, stride: int = 1) -> list[nn.Module]:
            return [
                nn.Conv2d(given, made, size, stride, size // 2, bias=False), nn.BatchNorm2d(made), nn.ReLU(inplace=True)
            ]  # fmt: skip

        self.seen = nn.Sequential(
            *step(1, 24, 5, 2),
            *step(24, 40),
            nn.MaxPool2d(2),
            *step(40, 80),
            *step(80, 80),
            nn.MaxPool2d(2),
            nn.Flatten(),
        )
        self.told = nn.Sequential(
            nn.Linear(80 * (SIDE // 8) ** 2 + 1, 160), nn.ReLU(inplace=True), nn.Dropout(0.25), nn.Linear(160, classes)
        )

    def forward(self, picture: Tensor, shape: Tensor) -> Tensor:
        scores: Tensor = self.told(torch.cat([self.seen(picture), shape], dim=1))
        return scores


def trained(samples: Samples, classes: int, epochs: int, seed: int) -> Iterator[Network]:
    """The network after each pass over the samples (Loshchilov and Hutter 2019, with one cycle of the learning rate)."""
    torch.manual_seed(seed)
    random = np.random.default_rng(seed)
    network = Network(classes).to(memory_format=torch.channels_last)  # type: ignore[call-overload]
    optimiser = torch.optim.AdamW(network.parameters(), LEARNING_RATE, weight_decay=DECAY)
    steps = epochs * (len(samples.classes) // SMALL_BATCH)
    rate = torch.optim.lr_scheduler.OneCycleLR(optimiser, LEARNING_RATE, total_steps=steps, pct_start=0.15)
    loss = nn.CrossEntropyLoss(label_smoothing=0.02)
    for _ in range(epochs):
        network.train()
        order = random.permutation(len(samples.classes))
        for start in range(0, len(order) - SMALL_BATCH + 1, SMALL_BATCH):
            own = order[start : start + SMALL_BATCH]
            pictures, shapes = as_tensors(samples, own)
            optimiser.zero_grad()
            wanted = torch.from_numpy(samples.classes[own].astype(np.int64))
            loss(network(_moved(pictures, random), shapes), wanted).backward()
            optimiser.step()
            rate.step()
        yield network


def as_tensors(samples: Samples, own: NDArray[np.int64]) -> tuple[Tensor, Tensor]:
    pictures = torch.from_numpy(samples.pictures[own].astype(np.float32) / 255)[:, None]
    return pictures, torch.from_numpy(samples.shapes[own])[:, None]


def _moved(pictures: Tensor, random: np.random.Generator) -> Tensor:
    """The pictures, each moved, slanted and scaled a little."""
    change = random.uniform(-SHIFT, SHIFT, (len(pictures), 2, 3)) + np.eye(2, 3)
    grid = nn.functional.affine_grid(
        torch.from_numpy(change.astype(np.float32)), list(pictures.shape), align_corners=False
    )
    return nn.functional.grid_sample(pictures, grid, align_corners=False)


@torch.no_grad()
def scores_of(network: Network, samples: Samples) -> NDArray[np.float32]:
    """The network's outputs for samples (n, classes)."""
    network.eval()
    out = []
    for start in range(0, len(samples.classes), 1024):
        pictures, shapes = as_tensors(samples, np.arange(start, min(start + 1024, len(samples.classes))))
        out.append(network(pictures, shapes).numpy())
    return np.concatenate(out)


def temperature_of(scores: NDArray[np.float32], classes: NDArray[np.int16]) -> float:
    """By what scores are divided for likelihoods that hold (Guo et al. 2017)."""
    choices = np.geomspace(0.4, 4, 60)
    losses = []
    for temperature in choices:
        logits = scores.astype(np.float64) / temperature
        logits -= logits.max(axis=1, keepdims=True)
        chosen = logits[np.arange(len(classes)), classes] - np.log(np.exp(logits).sum(axis=1))
        losses.append(-chosen.mean())
    return round(float(choices[int(np.argmin(losses))]), 3)


def write(network: Network, path: Path) -> None:
    """Writes the network as ONNX, for any number of symbols at once."""
    network.eval()
    out = io.BytesIO()
    torch.onnx.export(
        network, (torch.zeros(2, 1, SIDE, SIDE), torch.zeros(2, 1)), out, input_names=["picture", "shape"], output_names=["scores"],
        dynamic_axes={name: {0: "symbols"} for name in ("picture", "shape", "scores")}, opset_version=13, dynamo=False,
    )  # fmt: skip
    path.write_bytes(out.getvalue())
