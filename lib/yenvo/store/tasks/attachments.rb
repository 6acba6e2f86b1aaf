# frozen_string_literal: true

require "fileutils"
require "securerandom"

module Yenvo
  module Store
    # Files at tasks and records. They stand in a folder outside the database, under names that nobody can guess; the
    # database knows what they were called.
    class Attachments < Base
      keeps :attachments

      MAX_BYTES = 10_000_000
      MOST = 20
      # Bytes of all files of a task, or a record, together.
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

      # @param place [Hash{Symbol => Integer}] task_id or record_id
      # @return [Array<Hash>]
      def of(place) = table.where(place).order(:id).all

      # @param records [Array<Integer>]
      # @return [Sequel::Dataset] files at some records, and at tasks about them
      def of_all(records) =
        table.where(Sequel.|({record_id: records}, {task_id: root.task_rows.about(records).select(:id)}))

      # @raise [NotFound]
      def self.missing = raise(NotFound, "There is no such file.")

      # @return [Hash]
      # @raise [NotFound]
      def find!(id) = table.where(id:).first || Attachments.missing

      # @param place [Hash{Symbol => Integer}] task_id or record_id
      # @param name [String] as the person's machine calls it
      # @param content [String] bytes
      # @return [Hash] the row
      # @raise [Refused, NotFound]
      def add(place, name, content, cause:)
        name = plain_name(name)
        type = type_of(name, content)
        # Once, before the transaction, which may be tried again.
        file = keep(SecureRandom.hex(24), content)
        root.transaction do
          # A rule's run, too, may be taken back as a whole after this.
          db.after_rollback(savepoint: true) { FileUtils.rm_f(path(file)) }
          owner = lock!(place)
          check_room(place, content.bytesize)
          id = table.insert(**place, name:, type:, size: content.bytesize, file:, by: cause.who, at: cause.at)
          note("file_added", owner, place, name, cause)
          find!(id)
        end
      rescue
        # What no row leads to must not stay in the folder.
        FileUtils.rm_f(path(file)) if file
        raise
      end

      # Attaches a text that was filled in, as a text file.
      # @param paper [Hash] name, text
      def fill(task_id, paper, cause:)
        name = paper["name"].gsub(%r{[/\\]+}, "-").strip
        add(
          {task_id:}, "#{name.empty? ? "Paper" : name}.txt", paper["text"].empty? ? "\n" : paper["text"], cause:
        )
      end

      # Attaches a paper that was filled in, which is printed later.
      # @param place [Hash{Symbol => Integer}] task_id or record_id
      # @param paper [Core::Effects::MakePaper]
      # @return [Integer] id of the file
      # @raise [Refused, NotFound]
      def lay(place, paper, cause:)
        owner = lock!(place)
        check_room(place, 0)
        type = TYPES.fetch(File.extname(paper.name).delete_prefix("."))[0]
        id = table.insert(**place, name: paper.name, type:, by: cause.who, at: cause.at)
        db[:fillings].insert(attachment_id: id, body: dump(paper.filling))
        note("file_added", owner, place, paper.name, cause)
        id
      end

      # Keeps what a paper was printed to, unless somebody else has, or it was filled in anew meanwhile.
      # @param content [String] bytes
      # @param body [String] what was printed, as it was filled in
      # @return [Boolean]
      def printed(id, content, body)
        instead(content) do |columns|
          next 0 if db[:fillings].where(attachment_id: id, body:).delete.zero?

          table.where(id:, file: nil).update(columns)
        end
      end

      # Puts other bytes in a file's place, unless it is gone or another already.
      # @param row [Hash]
      # @param content [String] bytes
      # @param name [String] what it is called from then on
      def rewrite(row, content, name = row[:name])
        type = TYPES.fetch(File.extname(name).delete_prefix(".").downcase)[0]
        instead(content) do |columns|
          table.where(id: row[:id], file: row[:file]).update(**columns, name:, type:).tap do |done|
            drop([row[:file]]) if done.positive?
          end
        end
      end

      # @return [Array(Hash, String)] the row and the path of the file; see Printing#open for papers
      # @raise [NotFound]
      def open(id)
        row = find!(id)
        path = path(row[:file]) if row[:file]
        unless path && File.file?(path)
          raise NotFound,
            "The file “#{row[:name]}” is not in the folder of files any more. Whoever runs Yenvo can look for it there."
        end

        [row, path]
      end

      # Takes a file away.
      def remove(id, cause:)
        row = find!(id)
        root.transaction do
          place = row.slice(:task_id, :record_id).compact
          owner = row[:task_id] ? root.task_rows.find!(row[:task_id]) : root.records.row!(row[:record_id])
          table.where(id:).delete
          note("file_removed", owner, place, row[:name], cause)
          drop([row[:file]])
        end
      end

      # Takes away the files of records that are gone for good, and of their tasks.
      # @param records [Array<Integer>]
      def forget(records)
        gone = of_all(records).select(:id, :file).all
        db[:fillings].where(attachment_id: column(gone, :id)).delete
        table.where(id: column(gone, :id)).delete
        drop(column(gone, :file))
      end

      private

      # @yieldparam columns [Hash] of the row that leads to the bytes
      # @yieldreturn [Integer] how many rows do
      def instead(content)
        file = keep(SecureRandom.hex(24), content)
        kept =
          root.transaction do
            db.after_rollback(savepoint: true) { FileUtils.rm_f(path(file)) }
            yield({file:, size: content.bytesize}).positive?
          end
        FileUtils.rm_f(path(file)) unless kept
        kept
      rescue
        FileUtils.rm_f(path(file)) if file
        raise
      end

      # From the disk, when the rows are gone for good.
      def drop(files) = db.after_commit { files.compact.each { |file| FileUtils.rm_f(path(file)) } }

      # @return [Hash] row of the task or record, locked
      def lock!(place)
        task, record = place.values_at(:task_id, :record_id)
        task ? root.task_rows.lock!(task) : root.records.lock(record)
      end

      def note(what, owner, place, name, cause)
        return root.journal.add_about_task(what, cause, owner, name) if place[:task_id]

        root.journal.add_about(what, cause, owner, {"text" => name})
      end

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

      def check_room(place, bytes)
        count, size =
          table.where(place)
            .select(
              Sequel.function(:count).*.as(:count),
              Sequel.function(:coalesce, Sequel.function(:sum, :size), 0).as(:size)
            )
            .first.values_at(:count, :size)
        noun = place[:task_id] ? "task" : "record"
        most = "A #{noun} takes at most #{MOST} files" if count >= MOST
        too_much = size + bytes > MOST_BYTES
        most ||= "The files of a #{noun} have at most #{MOST_BYTES / 1_000_000} MB together" if too_much
        refuse("file", "#{most}. Take one away first.") if most
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
