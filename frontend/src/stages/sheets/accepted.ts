/** The files that become drawings. */
export const ACCEPTED =
  'application/pdf,image/png,image/jpeg,image/tiff,image/vnd.dxf,.pdf,.dxf,.png,.jpg,.jpeg,.tif,.tiff'
export const isDxf = (file: File) => /\.dxf$/i.test(file.name)
