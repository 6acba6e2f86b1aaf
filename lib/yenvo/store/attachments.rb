# frozen_string_literal: true

require "fileutils"
require "securerandom"

module Yenvo
  module Store
    # Files at tasks. They stand in a folder outside the database, under names that nobody can guess; the database knows
    # what they were called.
    class Attachments < Part
      MAX_BYTES = 10_000_000
      MOST = 20
      # By what a file is called, the type it is given out as, and how it begins (nil: texts, which have to be UTF-8).
      TYPES = {
        "pdf" => ["application/pdf", "%PDF-".b], "png" => ["image/png", "\x89PNG\r\n\x1A\n".b], "jpg" => ["image/jpeg", "\xFF\xD8\xFF".b], "jpeg" => ["image/jpeg", "\xFF\xD8\xFF".b],
        "webp" => ["image/webp", "RIFF".b], "txt" => ["text/plain", nil], "csv" => ["text/csv", nil], "ics" => ["text/calendar", nil], "vcf" => ["text/vcard", nil],
        "docx" => ["application/vnd.openxmlformats-officedocument.wordprocessingml.document", "PK".b], "xlsx" => ["application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "PK".b],
        "odt" => ["application/vnd.oasis.opendocument.text", "PK".b], "ods" => ["application/vnd.oasis.opendocument.spreadsheet", "PK".b]
      }.freeze

      # @return [Array<Hash>]
      def of(task_id) = db[:attachments].where(task_id: task_id).order(:id).all

      # @return [Hash]
      # @raise [NotFound]
      def find!(id) = db[:attachments].where(id: id).first || raise(NotFound, "There is no such file.")

      # @param name [String] as the person's machine calls it
      # @param content [String] bytes
      # @return [Hash] the row
      # @raise [Refused, NotFound]
      def add(task_id, name, content, cause:)
        name = File.basename(name.to_s.tr("\\", "/")).gsub(/[[:cntrl:]]/, "").strip[0, 200]
        type = type_of(name, content)
        root.transaction do
          task = root.tasks.find!(task_id)
          raise Refused.at("file" => "A task takes at most #{MOST} files. Take one away first.") if db[:attachments].where(task_id: task_id).count >= MOST

          file = SecureRandom.hex(24)
          keep(file, content)
          id = db[:attachments].insert(task_id: task_id, name: name, type: type, size: content.bytesize, file: file, by: cause.who, at: cause.at)
          root.journal.add("file_added", cause, task_id: task_id, record_id: task[:record_id], kind: task[:kind], detail: {"title" => task[:title], "text" => name})
          find!(id)
        end
      end

      # Attaches a paper that was filled in, as a text file.
      # @param paper [Hash] name, text
      def fill(task_id, paper, cause:)
        name = paper["name"].gsub(%r{[/\\]+}, "-").strip
        add(task_id, "#{name.empty? ? "Paper" : name}.txt", paper["text"].empty? ? "\n" : paper["text"], cause: cause)
      end

      # @return [Array(Hash, String)] the row and the path of the file
      # @raise [NotFound]
      def open(id)
        row = find!(id)
        path = path(row[:file])
        raise NotFound, "The file “#{row[:name]}” is not in the folder of files any more. Whoever runs Yenvo can look for it there." unless File.file?(path)

        [row, path]
      end

      # Takes a file away.
      def remove(id, cause:)
        row = find!(id)
        root.transaction do
          task = root.tasks.find!(row[:task_id])
          db[:attachments].where(id: id).delete
          root.journal.add("file_removed", cause, task_id: task[:id], record_id: task[:record_id], kind: task[:kind], detail: {"title" => task[:title], "text" => row[:name]})
          db.after_commit { FileUtils.rm_f(path(row[:file])) }
        end
      end

      private

      def type_of(name, content)
        ending = File.extname(name).delete_prefix(".").downcase
        type, begins = TYPES[ending]
        raise Refused.at("file" => "A file of this kind is not taken; take one that ends in #{TYPES.keys.join(", ")}.") unless type
        raise Refused.at("file" => "“#{name}” is empty.") if content.empty?
        raise Refused.at("file" => "“#{name}” has #{(content.bytesize / 1_000_000.0).round(1)} MB; at most #{MAX_BYTES / 1_000_000} MB are taken.") if content.bytesize > MAX_BYTES
        fits = begins ? content.byteslice(0, begins.bytesize) == begins : content.dup.force_encoding("UTF-8").then { |text| text.valid_encoding? && !text.include?("\u0000") }
        raise Refused.at("file" => "“#{name}” is not what its name says it is. Save it again and try once more.") unless fits

        type
      end

      # Written whole under another name first, so that no half a file ever stands there.
      def keep(file, content)
        path = path(file)
        FileUtils.mkdir_p(File.dirname(path))
        File.binwrite("#{path}.part", content)
        File.rename("#{path}.part", path)
      end

      def path(file) = File.join(root.files, file[0, 2], file)
    end
  end
end
