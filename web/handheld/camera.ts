interface Detector {
  readonly detect: (source: HTMLVideoElement) => Promise<{ rawValue: string }[]>
}
declare global {
  interface Window {
    BarcodeDetector?: new () => Detector
  }
}

/** Reads barcodes from the camera until one is found or it is stopped: with the browser's own detector, else with one that is loaded for it. */
export async function readCamera(video: HTMLVideoElement, found: (text: string) => void): Promise<() => void> {
  if (!window.BarcodeDetector) {
    const { BrowserMultiFormatReader } = await import('@zxing/library')
    const reader = new BrowserMultiFormatReader()
    await reader.decodeFromVideoDevice(null, video, result => {
      if (result) found(result.getText())
    })
    return () => reader.reset()
  }
  const stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } })
  video.srcObject = stream
  await video.play()
  const detector = new window.BarcodeDetector()
  const timer = setInterval(() => {
    void detector.detect(video).then(codes => {
      if (codes[0]) found(codes[0].rawValue)
    })
  }, 250)
  return () => {
    clearInterval(timer)
    for (const track of stream.getTracks()) track.stop()
  }
}
