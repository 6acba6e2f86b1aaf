# frozen_string_literal: true

require "nokogiri"
require "zip"

module Yenvo
  module Core
    module Papers
      # An uploaded document as it is packed (ZIP, as in ISO/IEC 21320-1): its parts by name, read within limits, so
      # that neither a small file that unpacks to a large one nor what runs or fetches when it is opened gets in.
      class Packed
        # That a document is not taken; a sentence.
        class NotTaken < Error; end

        MOST_BYTES = 5_000_000
        MOST_PARTS = 500
        MOST_UNPACKED = 30_000_000
        MOST_XML = 4_000_000
        # Parts that run when the document is opened, in either form.
        RUNS = %r{vbaProject|vbaData|oleObject|activeX|\A(?:Basic|Scripts)/|\.(?:exe|dll|js|vbs|jar)\z}i

        DECLARES = /<!(?:DOCTYPE|ENTITY)/i
        private_constant :DECLARES

        # @return [Hash{String => String}] bytes of each part by its name, in their order
        attr_reader :parts

        # @param bytes [String]
        # @param template [Boolean] false for one that is only looked through, so that it may be as large as files are
        #   and hold what runs
        # @raise [NotTaken]
        def initialize(bytes, template: true)
          @template = template
          too_much = template && bytes.bytesize > MOST_BYTES
          raise NotTaken, "It has more than #{MOST_BYTES / 1_000_000} MB." if too_much

          @parts = unpack(bytes).freeze
        rescue Zip::Error, Zlib::Error, SystemCallError, ArgumentError, EOFError
          raise NotTaken, "It cannot be opened: it is no whole document. Save it again and try once more."
        end

        # @param name [String]
        # @return [Nokogiri::XML::Document]
        # @raise [NotTaken]
        def xml(name) = Packed.xml(parts.fetch(name) { raise NotTaken, "Its part #{name} is missing." }, name)

        # @param changed [Hash{String => String}] parts that are others
        # @param at [Time]
        # @return [String] bytes of the document with them
        def with(changed, at:)
          time = Zip::DOSTime.at(at.to_i)
          Zip::OutputStream.write_buffer do |out|
            parts.each do |name, bytes|
              # A program tells by it what the file is, so that it stands there as it is.
              plain = name == "mimetype"
              method = plain ? Zip::Entry::STORED : Zip::Entry::DEFLATED
              out.put_next_entry(Zip::Entry.new(nil, name, time:, compression_method: method), nil, nil, method)
              out.write(changed.fetch(name, bytes))
            end
          end.string
        end

        class << self
          # @param part [String]
          # @return [String] why a document that runs something is not taken
          def runs(part) = "It holds a program (#{part[0, 60]}); save it without macros."

          # @return [String] why one that fetches something is not
          def fetches(part) =
            "It fetches something from elsewhere when it is opened (#{part[0, 60]}); put it into the document."

          # @return [Nokogiri::XML::Document]
          # @raise [NotTaken] also for what declares entities, which could grow without end
          def xml(bytes, name)
            raise NotTaken, "Its part #{name} is too large." if bytes.bytesize > MOST_XML

            text = bytes.dup.force_encoding("UTF-8")
            raise NotTaken, "Its part #{name} is not written in UTF-8." unless text.valid_encoding?
            raise NotTaken, "Its part #{name} declares entities, which are not taken." if text.match?(DECLARES)

            Nokogiri::XML(text, nil, "UTF-8") { |config| config.strict.nonet }
          rescue Nokogiri::XML::SyntaxError
            raise NotTaken, "Its part #{name} is not whole."
          end
        end

        private

        def unpack(bytes)
          left = MOST_UNPACKED
          zip = Zip::File.open_buffer(StringIO.new(bytes))
          raise NotTaken, "It is packed from more than #{MOST_PARTS} parts." if zip.size > MOST_PARTS

          zip.reject(&:directory?).to_h do |entry|
            part = read(entry, left)
            left -= part.bytesize
            [entry.name, part]
          end
        end

        # What an entry says of its size may be a lie, so that what comes is counted.
        def read(entry, left)
          raise NotTaken, Packed.runs(entry.name) if @template && entry.name.match?(RUNS)

          entry.get_input_stream do |stream|
            part = stream.read(left + 1) || ""
            raise NotTaken, "Unpacked it has more than #{MOST_UNPACKED / 1_000_000} MB." if part.bytesize > left

            part
          end
        end
      end
    end
  end
end
