# frozen_string_literal: true

require "fileutils"
require "securerandom"

module Yenvo
  module Store
    # Files at tasks. They stand in a folder outside the database, under names that nobody can guess; the database knows
    # what they were called.
    class Attachments < Base
      keeps :attachments

      MAX_BYTES = 10_000_000
      MOST = 20
      # Bytes of all files of a task together.
      MOST_BYTES = 50_000_000
      # By what a file is called, the type it is given out as, and how it begins (nil: texts, which have to be UTF-8).
      TYPES = {
        "pdf" => ["application/pdf", "%PDF-".b], "png" => ["image/png", "\x89PNG\r\n\x1A\n".b],
        "jpg" => ["image/jpeg", "\xFF\xD8\xFF".b], "jpeg" => ["image/jpeg", "\xFF\xD8\xFF".b],
        "webp" => ["image/webp", "RIFF".b], "txt" => ["text/plain", nil], "csv" => ["text/csv", nil],
        "ics" => ["text/calendar", nil], "vcf" => ["text/vcard", nil],
        "docx" => ["application/vnd.openxmlformats-officedocument.wordprocessingml.document", "PK".b],
        "xlsx" => ["application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "PK".b],
        "odt" => ["application/vnd.oasis.opendocument.text", "PK".b],
        "ods" => ["application/vnd.oasis.opendocument.spreadsheet", "PK".b]
      }.freeze

      # @return [Array<Hash>]
      def of(task_id) = table.where(task_id:).order(:id).all

      # @return [Hash]
      # @raise [NotFound]
      def find!(id) = table.where(id:).first || raise(NotFound, "There is no such file.")

      # @param name [String] as the person's machine calls it
      # @param content [String] bytes
      # @return [Hash] the row
      # @raise [Refused, NotFound]
      def add(task_id, name, content, cause:)
        name = plain_name(name)
        type = type_of(name, content)
        # Once, before the transaction, which may be tried again.
        file = keep(SecureRandom.hex(24), content)
        root.transaction do
          # A rule's run, too, may be taken back as a whole after this.
          db.after_rollback(savepoint: true) { FileUtils.rm_f(path(file)) }
          task = root.task_rows.lock!(task_id)
          check_room(task_id, content.bytesize)
          id =
            table.insert(
              task_id:, name:, type:, size: content.bytesize, file:, by: cause.who, at: cause.at
            )
          root.journal.add_about_task("file_added", cause, task, name)
          find!(id)
        end
      rescue
        # What no row leads to must not stay in the folder.
        FileUtils.rm_f(path(file)) if file
        raise
      end

      # Attaches a paper that was filled in, as a text file.
      # @param paper [Hash] name, text
      def fill(task_id, paper, cause:)
        name = paper["name"].gsub(%r{[/\\]+}, "-").strip
        add(task_id, "#{name.empty? ? "Paper" : name}.txt", paper["text"].empty? ? "\n" : paper["text"], cause:)
      end

      # @return [Array(Hash, String)] the row and the path of the file
      # @raise [NotFound]
      def open(id)
        row = find!(id)
        path = path(row[:file])
        unless File.file?(path)
          raise NotFound,
            "The file “#{row[:name]}” is not in the folder of files any more. Whoever runs Yenvo can look for it there."
        end

        [row, path]
      end

      # Takes a file away.
      def remove(id, cause:)
        row = find!(id)
        root.transaction do
          task = root.task_rows.find!(row[:task_id])
          table.where(id:).delete
          root.journal.add_about_task("file_removed", cause, task, row[:name])
          db.after_commit { FileUtils.rm_f(path(row[:file])) }
        end
      end

      private

      def type_of(name, content)
        type, begins = TYPES[File.extname(name).delete_prefix(".").downcase]
        refuse("file", "A file of this kind is not taken; take one that ends in #{TYPES.keys.join(", ")}.") unless type
        refuse("file", "“#{name}” is empty.") if content.empty?
        if content.bytesize > MAX_BYTES
          size = (content.bytesize / 1_000_000.0).round(1)
          refuse("file", "“#{name}” has #{size} MB; at most #{MAX_BYTES / 1_000_000} MB are taken.")
        end
        return type if begins ? content.b.start_with?(begins) : plain_text?(content)

        refuse("file", "“#{name}” is not what its name says it is. Save it again and try once more.")
      end

      def plain_text?(content)
        text = content.dup.force_encoding("UTF-8")
        text.valid_encoding? && !text.include?("\u0000")
      end

      # What a file is called, without what cannot be seen or would lead elsewhere.
      def plain_name(name) =
        Core::Reading.trim(File.basename(name.to_s.delete("\0").tr("\\", "/")).gsub(/[[:cntrl:]\p{Cf}]/, ""))[0, 200]

      def check_room(task_id, bytes)
        count, size =
          table.where(task_id:)
            .select(
              Sequel.function(:count).*.as(:count),
              Sequel.function(:coalesce, Sequel.function(:sum, :size), 0).as(:size)
            )
            .first.values_at(:count, :size)
        refuse("file", "A task takes at most #{MOST} files. Take one away first.") if count >= MOST
        if size + bytes > MOST_BYTES
          refuse("file", "The files of a task have at most #{MOST_BYTES / 1_000_000} MB together. Take one away first.")
        end
      end

      # Written whole under another name first, so that no half a file ever stands there.
      # @return [String] +file+
      # @raise [Refused] when the folder takes no more
      def keep(file, content)
        path = path(file)
        FileUtils.mkdir_p(File.dirname(path))
        File.binwrite("#{path}.part", content)
        File.rename("#{path}.part", path)
        file
      rescue SystemCallError => error
        FileUtils.rm_f("#{path}.part")
        Breakage::LOG.error("A file could not be kept", {file:}, error)
        refuse(
          "file",
          "The file could not be kept, since the folder of files takes no more just now. Tell whoever runs " \
          "Yenvo."
        )
      end

      def path(file) = File.join(root.files, file[0, 2], file)
    end
  end
end
