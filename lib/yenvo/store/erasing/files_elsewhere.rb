# frozen_string_literal: true

module Yenvo
  module Store
    # Takes the words of a record that is erased out of the files of others: of texts, tables and documents as they are;
    # of a PDF, out of which nothing can be taken, its other words stay as a text. They are looked through bit by bit,
    # before anything of the record goes, since there may be many.
    class FilesElsewhere < Base
      # Seconds that one turn takes.
      AT_ONCE = 1.0
      # Places of files that are named at most.
      MOST_NAMED = 10
      PDF = "application/pdf"
      ZIPPED = %r{openxmlformats|oasis\.opendocument}
      BEGUN = {till: 0, changed: 0, unread: 0, places: []}.freeze
      private_constant :AT_ONCE, :MOST_NAMED, :PDF, :ZIPPED, :BEGUN

      # How far it came. till: the last that was looked through; changed, unread: how many; places: of some that could
      # not be read.
      Progress = Core::Value.define(:till, :changed, :unread, :places) do
        # @param text [String, nil] JSON
        def self.read(text) = new(**BEGUN, **JSON.parse(text || "{}", symbolize_names: true))

        # @return [String, nil] a sentence's end for the audit
        def told
          said = {
            "files of others that were rewritten without its words: #{changed}" => changed,
            "not looked into, being pictures, locked or broken: #{unread} (#{places.join(", ")})" => unread
          }
          said.select { |_, count| count.positive? }.keys.join("; ").then { |words| words unless words.empty? }
        end
      end

      # @param words [Core::ErasedWords]
      def initialize(root, words)
        super(root)
        @words = words
      end

      # @param ids [Array<Integer>] other records
      # @param progress [Progress] how far it came before
      # @return [Array(Progress, Boolean)] how far it is now, and whether that is all
      def some(ids, progress, at:)
        return [progress, true] unless @words.in_documents

        till = now + AT_ONCE
        root.attachments.of_all(ids).where { id > progress.till }.order(:id).each do |row|
          return [progress, false] if now > till

          progress = one(row, progress, at)
        end
        [progress, true]
      end

      private

      def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)

      def one(row, progress, at)
        progress = progress.with(till: row[:id])
        fresh = row[:file] ? without(row, at) : unprinted(row)
        fresh ? progress.with(changed: progress.changed + 1) : progress
      rescue Core::Papers::Packed::NotTaken, NotFound
        unread(row, progress)
      rescue Breakage => error
        # Whatever somebody made a file of keeps nothing from being erased.
        Breakage::LOG.error("A file could not be looked through", {file: row[:id]}, error)
        unread(row, progress)
      end

      def unread(row, progress)
        place = row[:record_id] ? "record #{row[:record_id]}" : "task #{row[:task_id]}"
        places = (progress.places | [place]).first(MOST_NAMED)
        progress.with(unread: progress.unread + 1, places:)
      end

      # A paper that waits to be printed is filled in anew.
      def unprinted(row)
        waiting = db[:fillings].where(attachment_id: row[:id])
        body = waiting.get(:body) or return
        fresh = dump(@words.out_of_all(JSON.parse(body)))
        waiting.update(body: fresh) if fresh != body
      end

      # @return [Boolean, nil] whether it was rewritten
      def without(row, at)
        fresh = fresh(row, root.attachments.open(row[:id])[1], at)
        root.attachments.rewrite(row, *fresh) if fresh
      end

      # @return [Array, nil] bytes, and for a PDF what it is called now
      # @raise [Core::Papers::Packed::NotTaken] where it cannot be read
      def fresh(row, path, at)
        case row[:type]
        when PDF then print(row, path)
        when ZIPPED then packed(path, at)
        when /\Atext/ then Core::ErasedText.without(File.binread(path), row[:type], @words)
        else raise Core::Papers::Packed::NotTaken, "It is a picture."
        end
      end

      def packed(path, at) = Core::ErasedOffice.new(@words).without(File.binread(path), at:)

      def print(row, path)
        text = PdfWords.read(path) or raise Core::Papers::Packed::NotTaken, "It cannot be read."
        [text.gsub(@words.in_print, Core::ErasedWords::GONE), as_text(row[:name])] if text.match?(@words.in_print)
      end

      def as_text(name) = "#{name.delete_suffix(File.extname(name))}.txt"
    end
  end
end
