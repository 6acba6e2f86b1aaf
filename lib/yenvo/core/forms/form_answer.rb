# frozen_string_literal: true

module Yenvo
  module Core
    # What a visitor's answers come to. record, contact: Hash of fields to plain values; email: the one by which the
    # contact is found, or nil.
    FormAnswer =
      Value.define(:record, :contact, :email) do
        # @param form [Form]
        # @param values [Hash{FormItem => Object}]
        def self.of(form, values)
          contact, own = values.partition { |item, _| item.contact? }.map { |some| plain(some) }
          email = form.finder && values[form.finder]
          contact = {"title" => email, **contact} if email && !form.of_contact?
          record = {**form.fixed, **own}
          record["title"] ||= (form.of_contact? ? email : contact["title"]) || form.words["heading"]
          new(record:, contact:, email:)
        end

        def self.plain(values) = values.to_h { |item, value| [item.key, value] }
        private_class_method :plain
      end
  end
end
