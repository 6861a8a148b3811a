"""A plain script's loop over a clip: one process, one frame after the other, the libraries as they come.

python bench/plain_loop.py CLIP MODEL.task STEP FRAMES
prints how many frames a second it estimates, its start left out, of every STEP-th of the first FRAMES frames.
"""

import sys
import time

import av
import mediapipe as mp


def frames_per_s(clip: str, model: str, step: int, frames: int) -> float:
    vision = mp.tasks.vision
    options = vision.PoseLandmarkerOptions(
        base_options=mp.tasks.BaseOptions(model_asset_path=model), running_mode=vision.RunningMode.VIDEO
    )
    stamps = []
    with vision.PoseLandmarker.create_from_options(options) as landmarker, av.open(clip) as file:
        for i, frame in enumerate(file.decode(video=0)):
            if i >= frames:
                break
            if i % step == 0:
                picture = mp.Image(image_format=mp.ImageFormat.SRGB, data=frame.to_ndarray(format="rgb24"))
                landmarker.detect_for_video(picture, round(1000 * float(frame.time or 0.0)))
                stamps.append(time.perf_counter())
    return (len(stamps) - 1) / (stamps[-1] - stamps[0])


if __name__ == "__main__":
    print(frames_per_s(sys.argv[1], sys.argv[2], int(sys.argv[3]), int(sys.argv[4])))
