# frozen_string_literal: true

require "csv"

module Yenvo
  module Store
    # Reads a table from a file bit by bit, and can go on at any row. A row may go over several lines where its cells
    # do.
    class TableFile
      # Bytes of one row, and lines of one cell, at most; beyond that a quote was never closed.
      MOST_ROW = 1_000_000
      MOST_LINES = 5_000
      SAMPLE = 65_536
      BOM = "\xEF\xBB\xBF".b
      MARKS = {"\xFF\xFE".b => "UTF-16LE", "\xFE\xFF".b => "UTF-16BE"}.freeze

      # One row. line: in the file, the first is 1; cells: Array; wrong: why it cannot be read, or nil.
      Row = Core::Value.define(:line, :cells, :wrong)
      # Some rows, and the place behind them: byte and line; none where the file ends.
      Bit = Core::Value.define(:rows, :place, :line, :over)

      # Keeps what is given as UTF-8 where a mark says that it is UTF-16, and as it is otherwise, without a mark.
      # @param from [IO]
      # @param path [String]
      # @param most [Integer] bytes
      # @return [Integer, nil] bytes that were kept; nil when there are more
      def self.keep(from, path, most:)
        mark = from.read(3).to_s.b
        encoding = MARKS[mark.byteslice(0, 2).to_s]
        File.open(path, "wb") do |file|
          file.write(mark) unless encoding || mark == BOM
          file.write(mark.byteslice(2..).to_s) if encoding
          return nil if copy(from, file, most).nil?
        end
        to_utf8(path, encoding) if encoding
        File.size(path)
      end

      class << self
        private

        def copy(from, file, most)
          while (some = from.read(SAMPLE))
            file.write(some)
            return if file.pos > most
          end
          file.pos
        end

        def to_utf8(path, encoding)
          File.open("#{path}.utf8", "wb") do |file|
            File.open(path, "rb:#{encoding}:UTF-8", invalid: :replace, undef: :replace, replace: "\uFFFD") do |given|
              while (some = given.gets(nil, SAMPLE))
                file.write(some)
              end
            end
          end
          File.rename("#{path}.utf8", path)
        end
      end

      # @return [String] the beginning
      def self.sample(path) = File.binread(path, SAMPLE).to_s

      # @param path [String]
      # @param form [Core::TableForm]
      def initialize(path, form)
        @path = path
        @form = form
      end

      # @param place [Integer] byte
      # @param line [Integer] lines before it
      # @param limit [Integer] rows, about
      # @return [Bit]
      def bit(place:, line:, limit:)
        File.open(@path, "rb") do |file|
          file.seek(place)
          text, lines = chunk(file, limit)
          rows = rows(text, line)
          rows = rows.drop(1) if place.zero? && @form.header
          Bit.new(rows:, place: file.pos, line: line + lines, over: file.eof?)
        end
      end

      # @return [Array<String>] what the columns are called; their places where nothing says
      def heads = (bit_of_first || []).each_with_index.map { |cell, at| head(cell, at) }

      private

      def head(cell, at)
        said = @form.header ? cell.to_s.strip : ""
        said.empty? ? "Column #{at + 1}" : said
      end

      def bit_of_first = File.open(@path, "rb") { |file| rows(chunk(file, 1)[0], 0).first&.cells }

      # Lines up to where no cell is open: the quotes up to there come in pairs.
      # @return [Array(String, Integer)] bytes and how many lines
      def chunk(file, limit)
        text, lines, open, since = +"".b, 0, false, 0
        while (one = file.gets("\n", MOST_ROW))
          text << one
          lines += 1
          open ^= one.count('"').odd?
          since = open ? since + 1 : 0
          break if (!open && lines >= limit) || since > MOST_LINES || text.bytesize > 4 * MOST_ROW
        end
        [text, lines]
      end

      def rows(bytes, line)
        text = Core::TableForm.decode(bytes, @form.encoding)
        csv = CSV.new(text, col_sep: @form.separator, liberal_parsing: true)
        found = []
        at = line
        while (cells = csv.shift)
          found << Row.new(line: at + 1, cells:, wrong: nil) unless cells.all? { |cell| cell.nil? || cell.strip.empty? }
          at = line + csv.lineno
        end
        found
      rescue CSV::MalformedCSVError
        by_line(text, line)
      end

      # Where the whole cannot be taken apart, each line for itself.
      def by_line(text, line)
        text.each_line.with_index(line + 1).filter_map do |one, at|
          next if one.strip.empty?

          Row.new(line: at, cells: CSV.parse_line(one, col_sep: @form.separator, liberal_parsing: true).to_a,
            wrong: nil)
        rescue CSV::MalformedCSVError
          Row.new(line: at, cells: [one.chomp[0, 2_000]], wrong: "It cannot be taken apart; look at its quotes.")
        end
      end
    end
  end
end
