"""Packs the pose estimator's network files (npm package @mediapipe/pose) into one .task file a size.

    python scripts/pack_pose_model.py NPM_FOLDER OUT_FOLDER

The estimator reads how pictures are scaled from metadata inside the networks, which these files lack: it is added.
"""

import sys
import zipfile
from pathlib import Path

import flatbuffers
from mediapipe.tasks.metadata import metadata_schema_py_generated as described
from mediapipe.tasks.metadata import schema_py_generated as network

DETECTOR = "pose_solution_packed_assets.data"  # the detector's network under another name
SIZES = ("full", "heavy")


def main(source: Path, out: Path) -> None:
    out.mkdir(parents=True, exist_ok=True)
    detector = with_scaling((source / DETECTOR).read_bytes(), mean=127.5, std=127.5)
    for size in SIZES:
        landmarks = with_scaling((source / f"pose_landmark_{size}.tflite").read_bytes(), mean=0.0, std=255.0)
        made = out / f"pose_{size}.task.new"
        with zipfile.ZipFile(made, "w", zipfile.ZIP_STORED) as file:
            file.writestr("pose_detector.tflite", detector)
            file.writestr("pose_landmarks_detector.tflite", landmarks)
        made.rename(out / f"pose_{size}.task")


def with_scaling(tflite: bytes, mean: float, std: float) -> bytes:
    """The network with the metadata that its picture input is (value - mean) / std."""
    model = network.ModelT.InitFromPackedBuf(bytearray(tflite), 0)
    buffer = network.BufferT()
    buffer.data = list(_metadata(mean, std, outputs=len(model.subgraphs[0].outputs)))
    model.buffers.append(buffer)
    entry = network.MetadataT()
    entry.name, entry.buffer = b"TFLITE_METADATA", len(model.buffers) - 1
    model.metadata = [m for m in model.metadata or [] if m.name != entry.name] + [entry]
    builder = flatbuffers.Builder(0)
    builder.Finish(model.Pack(builder), b"TFL3")
    return bytes(builder.Output())


def _metadata(mean: float, std: float, outputs: int) -> bytes:
    scaling = described.NormalizationOptionsT()
    scaling.mean, scaling.std = [mean], [std]
    unit = described.ProcessUnitT()
    unit.optionsType, unit.options = described.ProcessUnitOptions.NormalizationOptions, scaling
    picture = described.ImagePropertiesT()
    picture.colorSpace = described.ColorSpaceType.RGB
    content = described.ContentT()
    content.contentPropertiesType = described.ContentProperties.ImageProperties
    content.contentProperties = picture
    tensor = described.TensorMetadataT()
    tensor.name, tensor.content, tensor.processUnits = "image", content, [unit]
    graph = described.SubGraphMetadataT()
    graph.inputTensorMetadata = [tensor]
    graph.outputTensorMetadata = [described.TensorMetadataT() for _ in range(outputs)]
    whole = described.ModelMetadataT()
    whole.name, whole.subgraphMetadata = "pose", [graph]
    builder = flatbuffers.Builder(0)
    builder.Finish(whole.Pack(builder), b"M001")
    return bytes(builder.Output())


if __name__ == "__main__":
    main(*map(Path, sys.argv[1:3]))
