"""Body and hand points in a picture, from small trained nets: detectors, crops, landmarks.

``nets`` runs a net, ``anchors`` reads a detector's answer, ``crop`` cuts the turned square that a landmark net looks at, ``body`` and
``hands`` put the two together. Nothing here knows takes or instruments.
"""
