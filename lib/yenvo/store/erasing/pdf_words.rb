# frozen_string_literal: true

require "open3"
require "rbconfig"

module Yenvo
  module Store
    # What a PDF (ISO 32000) says. Whoever made it may have packed anything into it, so it is read by a process of its
    # own, which has so much memory and time and no more.
    module PdfWords
      MEMORY = 1_500_000_000
      SECONDS = 20
      MOST = 2_000_000
      # Beyond this a letter stands in another line, or behind a blank; in parts of its size.
      LINE = 0.5
      GAP = 0.15
      CALL = "print Yenvo::Store::PdfWords.of(ARGV[0])"
      private_constant :MEMORY, :SECONDS, :MOST, :LINE, :GAP, :CALL

      module_function

      # @param path [String] of a file
      # @return [String, nil] its words, line by line in the order in which they were written, so that what stands in a
      #   cell of a table stands together; nil where none can be read: it is broken, locked, too large, or a picture
      def read(path)
        limits = {rlimit_as: MEMORY, rlimit_cpu: SECONDS, rlimit_core: 0}
        command = [RbConfig.ruby, "-W0", "-r", "pdf-reader", "-r", File.expand_path(__FILE__), "-e", CALL, path]
        text, _, status = Open3.capture3(*command, **limits)
        plain(text) if status.success?
      end

      def plain(text)
        text = text.force_encoding("UTF-8").scrub.unicode_normalize(:nfkc)
        text unless text.strip.empty?
      end

      # Reads here and now, as the process of its own does.
      # @param path [String]
      # @return [String]
      # @raise [PDF::Reader::MalformedPDFError, ArgumentError] when it is broken, or says too much
      def of(path)
        PDF::Reader.new(path).pages.each_with_object(+"") do |page, text|
          text << lines(page.runs(merge: false)) << "\n"
          bounded(text)
        end
      end

      def bounded(text) = (raise ArgumentError, "It says too much." if text.bytesize > MOST)

      def lines(letters)
        letters.each_cons(2).inject(+letters.first&.text.to_s) do |text, (last, letter)|
          text << between(last, letter) << letter.text
        end
      end

      def between(last, letter)
        size = letter.font_size.abs
        return "\n" if apart?(last, letter, size)

        ((letter.x - last.endx) > size * GAP) ? " " : ""
      end

      def apart?(last, letter, size) = (letter.y - last.y).abs > size * LINE || letter.x < last.x - size
    end
  end
end
