# frozen_string_literal: true

module Yenvo
  module Store
    # What rules and kits have alike: a draft that saves itself, and versions that never change. Whoever includes it
    # says its +table+, its +versions_table+ and the +owner_column+ in that, its +noun+, and reads a body with
    # +read_body+.
    module Drafted
      # @return [Array<Hash>] rows in the order of the list
      def all = table.order(:position, :id).all

      # @raise [NotFound]
      def find!(id) = table.where(id:).first || raise(NotFound, "There is no #{noun} #{id}.")

      # @return [Hash, nil]
      def by_name(name) = table.where(name:).order(:id).first

      # Keeps a draft. The stamp is the one that the writer saw.
      # @param body [Core::Rule, Core::Kits::Kit]
      # @raise [Conflict] when somebody else wrote in the meantime
      def keep_draft(id, body, stamp:, cause:)
        root.transaction do
          row = lock(id, stamp)
          names = row[:version_id] ? {} : {name: shown_name(body), kind: body.kind}
          table.where(id:).update(
            draft: dump(body.to_h), draft_stamp: row[:draft_stamp] + 1, draft_by: cause.who, draft_at: cause.at, **names
          )
          find!(id)
        end
      end

      # Throws the draft away; what was never published goes with it.
      def drop_draft(id)
        row = find!(id)
        return table.where(id:).delete if row[:version_id].nil?

        table.where(id:).update(no_draft(row))
      end

      # @return [Array<Hash>] newest first: id, number, published_by, published_at
      def versions(id) =
        written.where(owner_column => id).reverse(:number).select(*LISTED).limit(200).all
      LISTED = %i[id number published_by published_at].freeze
      private_constant :LISTED

      # @return [Hash{Integer => Integer}] version in force, by id of what has one
      def newest = table.exclude(version_id: nil).select_hash(:id, :version_id)

      # @return [Hash{Integer => Integer}] numbers by version id
      def version_numbers(ids) = written.where(id: ids.compact.uniq).select_hash(:id, :number)

      # @return [Hash{Integer => String}] keys of those who own it, by id
      def owners(ids) = table.where(id: ids).select_hash(:id, :owner)

      # @return [Hash{Integer => String}] names by id
      def names(ids) = ids.compact.empty? ? {} : table.where(id: ids.compact.uniq).select_hash(:id, :name)

      # @return [Hash{Integer => Hash}] name, mark and ink by id
      def labels(ids) =
        ids.compact.empty? ? {} : table.where(id: ids.compact.uniq).select(:id, :name, :mark, :ink).as_hash(:id)

      # @raise [NotFound]
      def version!(id, number)
        text =
          written.where(owner_column => id, :number => number).get(:body) ||
          raise(NotFound, "There is no version #{number} of #{noun} #{id}.")
        read_body(load(text))
      end

      def body(version_id) = read_body(load(written.where(id: version_id).get(:body)))

      # @return [Object] the draft, or the version in force where there is none
      def draft_of(row) = row[:draft] ? read_body(load(row[:draft])) : body(row[:version_id])

      # What rows say, by one query for all that have no draft.
      # @return [Hash{Integer => Object}] the draft of each, or the version in force where there is none
      def drafts_of(rows)
        ids = rows.filter_map { |row| row[:version_id] unless row[:draft] }
        versions = ids.empty? ? {} : written.where(id: ids).select_hash(:id, :body)
        rows.to_h { |row| [row[:id], read_body(load(row[:draft] || versions.fetch(row[:version_id])))] }
      end

      # The mark of two letters in an ink by which tasks are told apart.
      # @param mark [String, nil]
      # @param ink [String, nil]
      # @raise [Refused]
      def set_mark(id, mark, ink)
        find!(id)
        mark = mark.to_s.strip
        unless mark.empty? || mark.match?(/\A[[:alnum:]]{2}\z/)
          raise Refused.at("mark" => "A mark is two letters or digits, such as SB; leave it empty for none.")
        end
        unless mark.empty? || Drafted::INKS.include?(ink)
          raise Refused.at("ink" => "The ink is one of #{Drafted::INKS.join(", ")}.")
        end

        table.where(id:).update(mark: mark.empty? ? nil : mark, ink: mark.empty? ? nil : ink)
      end

      INKS = %w[pine leaf sea blue plum red rust slate].freeze

      private

      # What a row says that has no draft any more.
      def no_draft(row) = {draft: nil, draft_stamp: row[:draft_stamp] + 1, draft_by: nil, draft_at: nil}

      def lock(id, stamp)
        row = table.where(id:).for_update.first || raise(NotFound, "There is no #{noun} #{id}.")
        return row if stamp.nil? || stamp == row[:draft_stamp]

        by = row[:draft_by] || written.where(owner_column => id).reverse(:number).get(:published_by)
        raise Conflict.new(
          "#{root.schema.name_of(by)} changed this #{noun} while you were writing. Yours is not saved; look at " \
          "theirs, then save yours over it or take theirs.", conflicts: [], stamp: row[:draft_stamp]
        )
      end

      # @return [Integer] id of the new draft
      def insert_draft(body, cause, **more)
        last = table.max(:position) || 0
        table.insert(
          key: free_key(body.name), name: shown_name(body), kind: body.kind, position: last + 1, owner: cause.who,
          draft: dump(body.to_h), draft_stamp: 1, draft_by: cause.who, draft_at: cause.at, made_at: cause.at, **more
        )
      end

      # @return [Array(Integer, Integer)] id and number of the new version
      def insert_version(id, body, cause)
        number = (written.where(owner_column => id).max(:number) || 0) + 1
        [
          written.insert(
            owner_column => id, :number => number, :body => dump(body.to_h), :published_by => cause.who,
            :published_at => cause.at
          ),
          number
        ]
      end

      def shown_name(body) = body.name.strip.empty? ? "Untitled #{noun}" : body.name

      def free_key(name)
        plain = name.downcase.gsub(/[^a-z0-9]+/, "-").gsub(/\A-+|-+\z/, "")[0, 90]
        plain = noun if plain.empty?
        taken = table.where(Sequel.ilike(:key, "#{db.dataset.escape_like(plain)}%")).select_map(:key)
        ([plain] + (2..taken.size + 2).map { |n| "#{plain}-#{n}" }).find { |key| !taken.include?(key) }
      end
    end
  end
end
