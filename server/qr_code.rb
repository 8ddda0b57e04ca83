# frozen_string_literal: true

module Northdrift
  module Server
    # A text as a picture that a telephone reads (ISO/IEC 18004).
    module QrCode
      # Of a module, and of the quiet zone around all, which is four modules wide (section 9.1).
      SIZE = 4
      MARGIN = 4 * SIZE

      module_function

      # @param text [String]
      # @return [String] SVG, dark on white whatever the theme is
      def svg(text)
        require "rqrcode"
        RQRCode::QRCode.new(text, level: :m).as_svg(
          module_size: SIZE, offset: MARGIN, fill: "ffffff", color: "000000", use_path: true, viewbox: true
        )
      end
    end
  end
end
